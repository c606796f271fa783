import { DataTypes } from 'sequelize'

/** Kinds of columns that models are made of; none of them may be empty. */
export const column = {
  id: () => ({ type: DataTypes.BIGINT, primaryKey: true, autoIncrement: true }),
  /** The id of something else. */
  reference: () => ({ type: DataTypes.BIGINT, allowNull: false }),
  text: () => ({ type: DataTypes.TEXT, allowNull: false }),
  json: () => ({ type: DataTypes.JSONB, allowNull: false }),
  instant: () => ({ type: DataTypes.DATE, allowNull: false }),
} as const
