import type { Database } from './database/connect.ts'
import { defineFollowups } from './followups/models.ts'
import { definePages } from './pages/models.ts'
import { defineWorkspace } from './workspace/models.ts'

/** Ties the models of all subjects to a database; once a process, before the first request. */
export function defineModels({ sequelize }: Database): void {
  defineWorkspace(sequelize)
  definePages(sequelize)
  defineFollowups(sequelize)
}
