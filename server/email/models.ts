import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'
import type { Purpose } from '../../core/audience/people/permission.ts'
import type { EmailContent, Target } from '../../core/email/content.ts'
import { column } from '../database/column.ts'

/** An email of the Library: its content, and what was made of it once for everybody. */
export class Email extends Model<InferAttributes<Email>, InferCreationAttributes<Email>> {
  declare id: CreationOptional<number>
  declare name: string
  declare purpose: Purpose
  declare content: EmailContent
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
      id: column.id(),
      name: column.text(),
      purpose: column.text(),
      content: column.json(),
      htmlTemplate: column.text(),
      textTemplate: column.text(),
      createdAt: column.instant(),
    },
    { sequelize, tableName: 'email' },
  )
  EmailLink.init(
    {
      id: column.id(),
      emailId: column.reference(),
      position: { type: DataTypes.INTEGER, allowNull: false },
      label: column.text(),
      target: column.json(),
    },
    { sequelize, tableName: 'email_link' },
  )
}
