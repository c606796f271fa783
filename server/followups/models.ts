import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'
import type { FollowupState } from '../../contract/followups.ts'
import type { Program } from '../../core/followups/program.ts'

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
      id: { type: DataTypes.BIGINT, primaryKey: true, autoIncrement: true },
      name: { type: DataTypes.TEXT, allowNull: false },
      state: { type: DataTypes.TEXT, allowNull: false },
      program: { type: DataTypes.JSONB, allowNull: false },
      createdAt: { type: DataTypes.DATE, allowNull: false },
    },
    { sequelize, tableName: 'followup' },
  )
}
