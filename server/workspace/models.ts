import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type NonAttribute,
  type Sequelize,
} from 'sequelize'
import type { Brand } from '../../core/pages/brand.ts'
import type { RecoverySettings } from '../../core/commerce/recovery.ts'
import type { TaxSettings } from '../../core/commerce/tax.ts'
import type { SendingRules } from '../../core/email/sendingRules.ts'
import type { SiteSettings } from '../../core/pages/site.ts'
import { column } from '../database/column.ts'

/** The one business of this install. */
export class Business extends Model<InferAttributes<Business>, InferCreationAttributes<Business>> {
  declare id: CreationOptional<number>
  declare name: string
  declare postalAddress: string
  /** From whom emails come that name no other. */
  declare senderId: number
  declare sender: NonAttribute<Sender>
  declare zone: string
  declare currency: string
  /** How it looks to its public; null until somebody has chosen. */
  declare brand: CreationOptional<Brand | null>
  declare site: CreationOptional<Partial<SiteSettings>>
  /** How much is sent, and when. */
  declare sending: CreationOptional<Partial<SendingRules>>
  /** How what it sells is taxed. */
  declare tax: CreationOptional<Partial<TaxSettings>>
  /** When a cart counts as left, and who is held out. */
  declare recovery: CreationOptional<Partial<RecoverySettings>>
  /** Whether buyers pay with money. */
  declare takes: CreationOptional<'test' | 'live'>
  declare createdAt: Date
}

/** From whom emails come. */
export class Sender extends Model<InferAttributes<Sender>, InferCreationAttributes<Sender>> {
  declare id: CreationOptional<number>
  declare name: string
  declare address: string
  declare addressKey: string
  declare askedAt: CreationOptional<Date | null>
  declare confirmedAt: CreationOptional<Date | null>
  declare createdAt: Date
}

/** Somebody of the business who signs in. */
export class Account extends Model<InferAttributes<Account>, InferCreationAttributes<Account>> {
  declare id: CreationOptional<number>
  declare address: string
  declare addressKey: string
  declare name: string
  declare passwordHash: string
  declare createdAt: Date
}

export function defineWorkspace(sequelize: Sequelize): void {
  Business.init(
    {
      id: { type: DataTypes.SMALLINT, primaryKey: true, defaultValue: 1 },
      name: column.text(),
      postalAddress: column.text(),
      senderId: { type: DataTypes.BIGINT, allowNull: false },
      zone: column.text(),
      currency: { type: DataTypes.CHAR(3), allowNull: false },
      brand: { type: DataTypes.JSONB, allowNull: true },
      site: { ...column.json(), defaultValue: {} },
      sending: { ...column.json(), defaultValue: {} },
      tax: { ...column.json(), defaultValue: {} },
      recovery: { ...column.json(), defaultValue: {} },
      takes: { ...column.text(), defaultValue: 'test' },
      createdAt: column.instant(),
    },
    { sequelize, tableName: 'business' },
  )
  Sender.init(
    {
      id: column.id(),
      name: column.text(),
      address: column.text(),
      addressKey: column.text(),
      askedAt: { type: DataTypes.DATE, allowNull: true },
      confirmedAt: { type: DataTypes.DATE, allowNull: true },
      createdAt: column.instant(),
    },
    { sequelize, tableName: 'sender' },
  )
  Business.belongsTo(Sender, { as: 'sender', foreignKey: 'senderId' })
  Account.init(
    {
      id: column.id(),
      address: column.text(),
      addressKey: column.text(),
      name: column.text(),
      passwordHash: column.text(),
      createdAt: column.instant(),
    },
    { sequelize, tableName: 'account' },
  )
}
