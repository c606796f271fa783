/** A column of a table; its head sorts unless it says otherwise. */
export interface Column<Row> {
  title: string
  key: (keyof Row & string) | (string & {})
  /** Numbers stand at the right end. */
  align?: 'start' | 'end'
  sortable?: boolean
  /** What to sort and show by, where it is not the value under the key. */
  value?: (row: Row) => unknown
  width?: number | string
  nowrap?: boolean
}

/** The column of what can be done with a row. */
export const actionsColumn = {
  title: '',
  key: 'actions',
  sortable: false,
  align: 'end',
  nowrap: true,
} as const

/** How a head sorts its table. */
export interface SortItem {
  key: string
  order: 'asc' | 'desc'
}

const inPlace = (): number => 0

/** The server has sorted these rows already: their heads say how, and the browser leaves the order as it is. */
export const sortedByServer = (columns: readonly { key: string }[]): Record<string, () => number> =>
  Object.fromEntries(columns.map(({ key }) => [key, inPlace]))
