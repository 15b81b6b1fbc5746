/** A column of a table. */
export interface Column<T> {
  readonly key: string
  readonly title: string
  /** What it is sorted, filtered and grouped by; empty where the row has none. */
  value(row: T): string | number
  readonly mono?: boolean
}
export const columnText = <T>(column: Column<T>, row: T): string => String(column.value(row))
