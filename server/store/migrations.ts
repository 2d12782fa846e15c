import { readFileSync } from 'node:fs'
import path from 'node:path'
import { projectRoot } from '../root.js'

/** The migrations in order; number n brings a file from version n − 1 to n. Never edit one that has been shipped. */
const files = {
  workspace: [
    '001_first.sql',
    '002_catalog.sql',
    '003_annotations.sql',
    '004_synonyms.sql',
    '005_segments.sql',
    '006_dashboards_among.sql',
    '007_dates.sql',
    '008_kept_addresses.sql',
    '009_profile_history.sql',
    '010_taking_back.sql',
    '011_costs.sql',
    '012_models.sql',
    '013_outreach.sql',
    '014_messages.sql',
  ],
  /** the list of workspaces, and later the accounts */
  home: ['home_001_first.sql'],
}
export type Kind = keyof typeof files

export function migrationsOf(kind: Kind): string[] {
  return files[kind].map((file) => readFileSync(path.join(projectRoot, 'server/store/migrations', file), 'utf8'))
}
