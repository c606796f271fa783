import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'
import type { Purpose } from '../../core/audience/permission.ts'
import type { Letter, Target } from '../../core/email/letter.ts'

/** An email of the Library: its content, and what was made of it once for everybody. */
export class Email extends Model<InferAttributes<Email>, InferCreationAttributes<Email>> {
  declare id: CreationOptional<number>
  declare name: string
  declare purpose: Purpose
  declare letter: Letter
  declare htmlTemplate: string
  declare textTemplate: string
  declare createdAt: Date
}

/** A place that an email leads to. */
export class EmailLink extends Model<InferAttributes<EmailLink>, InferCreationAttributes<EmailLink>> {
  declare id: CreationOptional<number>
  declare emailId: number
  declare position: number
  declare label: string
  declare target: Target
}

export function defineEmail(sequelize: Sequelize): void {
  Email.init(
    {
      id: { type: DataTypes.BIGINT, primaryKey: true, autoIncrement: true },
      name: { type: DataTypes.TEXT, allowNull: false },
      purpose: { type: DataTypes.TEXT, allowNull: false },
      letter: { type: DataTypes.JSONB, allowNull: false },
      htmlTemplate: { type: DataTypes.TEXT, allowNull: false },
      textTemplate: { type: DataTypes.TEXT, allowNull: false },
      createdAt: { type: DataTypes.DATE, allowNull: false },
    },
    { sequelize, tableName: 'email' },
  )
  EmailLink.init(
    {
      id: { type: DataTypes.BIGINT, primaryKey: true, autoIncrement: true },
      emailId: { type: DataTypes.BIGINT, allowNull: false },
      position: { type: DataTypes.INTEGER, allowNull: false },
      label: { type: DataTypes.TEXT, allowNull: false },
      target: { type: DataTypes.JSONB, allowNull: false },
    },
    { sequelize, tableName: 'email_link' },
  )
}
