/** What pages in the browser share with the server's ingest: pure data and checks, no input or output. */
export {
  importPlanSchema,
  planProblems,
  timeFormats,
  withColumn,
  type ColumnRole,
  type ImportPlan,
  type RowKind,
  type TablePlan,
  type TimeFormat,
} from '../../server/ingest/importPlan.js'
export type { Preview } from '../../server/ingest/preview.js'
export { takeChoiceSchema, type TakeChoice } from '../../server/ingest/takeChoice.js'
