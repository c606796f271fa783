import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'

/** The one business of this install. */
export class Business extends Model<InferAttributes<Business>, InferCreationAttributes<Business>> {
  declare id: CreationOptional<number>
  declare name: string
  declare postalAddress: string
  declare senderName: string
  declare senderAddress: string
  declare zone: string
  declare currency: string
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
      name: { type: DataTypes.TEXT, allowNull: false },
      postalAddress: { type: DataTypes.TEXT, allowNull: false },
      senderName: { type: DataTypes.TEXT, allowNull: false },
      senderAddress: { type: DataTypes.TEXT, allowNull: false },
      zone: { type: DataTypes.TEXT, allowNull: false },
      currency: { type: DataTypes.CHAR(3), allowNull: false },
      createdAt: { type: DataTypes.DATE, allowNull: false },
    },
    { sequelize, tableName: 'business' },
  )
  Account.init(
    {
      id: { type: DataTypes.BIGINT, primaryKey: true, autoIncrement: true },
      address: { type: DataTypes.TEXT, allowNull: false },
      addressKey: { type: DataTypes.TEXT, allowNull: false },
      name: { type: DataTypes.TEXT, allowNull: false },
      passwordHash: { type: DataTypes.TEXT, allowNull: false },
      createdAt: { type: DataTypes.DATE, allowNull: false },
    },
    { sequelize, tableName: 'account' },
  )
}
