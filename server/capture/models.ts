import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'
import { column } from '../database/column.ts'

/** Something that people download. */
export class StoredFile extends Model<InferAttributes<StoredFile>, InferCreationAttributes<StoredFile>> {
  declare id: CreationOptional<number>
  declare name: string
  declare mediaType: string
  declare content: Buffer
  declare createdAt: Date
}

export function defineCapture(sequelize: Sequelize): void {
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
