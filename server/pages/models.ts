import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'
import type { PagePurpose } from '../../core/pages/page.ts'
import { column } from '../database/column.ts'

/** A page of the business: what it is called and where it stands. What it says is in its versions. */
export class Page extends Model<InferAttributes<Page>, InferCreationAttributes<Page>> {
  declare id: CreationOptional<number>
  declare path: string
  declare name: string
  declare purpose: PagePurpose
  /** The version that visitors see; none while it is a draft. */
  declare publishedVersion: CreationOptional<number | null>
  declare publishedAt: CreationOptional<Date | null>
  declare publishedBy: CreationOptional<string | null>
  declare archivedAt: CreationOptional<Date | null>
  declare courseId: CreationOptional<number | null>
  declare lessonNumber: CreationOptional<number | null>
  declare createdAt: Date
}

export function definePages(sequelize: Sequelize): void {
  // Each attribute has an object of its own: of a shared one Sequelize writes into the last column alone.
  const number = () => ({ type: DataTypes.INTEGER, allowNull: true })
  Page.init(
    {
      id: column.id(),
      path: column.text(),
      name: column.text(),
      purpose: column.text(),
      publishedVersion: number(),
      publishedAt: { type: DataTypes.DATE, allowNull: true },
      publishedBy: { type: DataTypes.TEXT, allowNull: true },
      archivedAt: { type: DataTypes.DATE, allowNull: true },
      courseId: { type: DataTypes.BIGINT, allowNull: true },
      lessonNumber: number(),
      createdAt: column.instant(),
    },
    { sequelize, tableName: 'page' },
  )
}
