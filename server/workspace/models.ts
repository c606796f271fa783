import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'
import type { Brand } from '../../core/pages/brand.ts'
import type { SiteSettings } from '../../core/pages/site.ts'
import { column } from '../database/column.ts'

/** The one business of this install. */
export class Business extends Model<InferAttributes<Business>, InferCreationAttributes<Business>> {
  declare id: CreationOptional<number>
  declare name: string
  declare postalAddress: string
  declare senderName: string
  declare senderAddress: string
  declare zone: string
  declare currency: string
  /** How it looks to its public; null until somebody has chosen. */
  declare brand: CreationOptional<Brand | null>
  declare site: CreationOptional<Partial<SiteSettings>>
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
      senderName: column.text(),
      senderAddress: column.text(),
      zone: column.text(),
      currency: { type: DataTypes.CHAR(3), allowNull: false },
      brand: { type: DataTypes.JSONB, allowNull: true },
      site: { ...column.json(), defaultValue: {} },
      createdAt: column.instant(),
    },
    { sequelize, tableName: 'business' },
  )
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
