import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'
import type { PageContent } from '../../core/capture/page.ts'

/** A capture page with its thank-you page. */
export class Page extends Model<InferAttributes<Page>, InferCreationAttributes<Page>> {
  declare id: CreationOptional<number>
  declare slug: string
  declare name: string
  declare state: 'draft' | 'live'
  /** Put on everybody who sends its form. */
  declare tagId: number | null
  declare content: PageContent
  declare createdAt: Date
}

/** Something that people download. */
export class StoredFile extends Model<InferAttributes<StoredFile>, InferCreationAttributes<StoredFile>> {
  declare id: CreationOptional<number>
  declare name: string
  declare mediaType: string
  declare content: Buffer
  declare createdAt: Date
}

export function defineCapture(sequelize: Sequelize): void {
  Page.init(
    {
      id: { type: DataTypes.BIGINT, primaryKey: true, autoIncrement: true },
      slug: { type: DataTypes.TEXT, allowNull: false },
      name: { type: DataTypes.TEXT, allowNull: false },
      state: { type: DataTypes.TEXT, allowNull: false },
      tagId: { type: DataTypes.BIGINT, allowNull: true },
      content: { type: DataTypes.JSONB, allowNull: false },
      createdAt: { type: DataTypes.DATE, allowNull: false },
    },
    { sequelize, tableName: 'page' },
  )
  StoredFile.init(
    {
      id: { type: DataTypes.BIGINT, primaryKey: true, autoIncrement: true },
      name: { type: DataTypes.TEXT, allowNull: false },
      mediaType: { type: DataTypes.TEXT, allowNull: false },
      content: { type: DataTypes.BLOB, allowNull: false },
      createdAt: { type: DataTypes.DATE, allowNull: false },
    },
    { sequelize, tableName: 'file' },
  )
}
