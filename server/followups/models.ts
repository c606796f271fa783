import {
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'
import type { FollowupState } from '../../contract/followups.ts'
import type { Program } from '../../core/followups/program.ts'
import { column } from '../database/column.ts'

/** A follow-up with the program that it runs. */
export class Followup extends Model<InferAttributes<Followup>, InferCreationAttributes<Followup>> {
  declare id: CreationOptional<number>
  declare name: string
  declare state: FollowupState
  declare program: Program
  declare createdAt: Date
}

export function defineFollowups(sequelize: Sequelize): void {
  Followup.init(
    {
      id: column.id(),
      name: column.text(),
      state: column.text(),
      program: column.json(),
      createdAt: column.instant(),
    },
    { sequelize, tableName: 'followup' },
  )
}
