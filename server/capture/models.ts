import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'
import type { PageContent } from '../../core/capture/page.ts'
import { column } from '../database/column.ts'

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
      id: column.id(),
      slug: column.text(),
      name: column.text(),
      state: column.text(),
      tagId: { type: DataTypes.BIGINT, allowNull: true },
      content: column.json(),
      createdAt: column.instant(),
    },
    { sequelize, tableName: 'page' },
  )
  StoredFile.init(
    {
      id: column.id(),
      name: column.text(),
      mediaType: column.text(),
      content: { type: DataTypes.BLOB, allowNull: false },
      createdAt: column.instant(),
    },
    { sequelize, tableName: 'file' },
  )
}
