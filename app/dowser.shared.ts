/** What pages in the browser share with the server's ingest: pure data and checks, no input or output. */
export { planProblems, type ColumnRole, type CsvPlan, type ImportPlan } from '../server/ingest/importPlan.js'
export type { Preview } from '../server/ingest/preview.js'
