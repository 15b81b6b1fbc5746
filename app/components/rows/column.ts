/** A column of a table. */
export interface Column<T> {
  readonly key: string
  readonly title: string
  /** What it is sorted and grouped by; empty where the row has none. */
  value(row: T): string | number
  /** What stands in it and is looked for, where that is other than its value. */
  text?(row: T): string
  readonly mono?: boolean
  /** What the heading means, where the words do not say it. */
  readonly hint?: string
  /** Looked for and grouped by, and not shown. */
  readonly isHidden?: boolean
  /** Of buttons and drawings, which have no order. */
  readonly isUnsorted?: boolean
}
export const columnText = <T>(column: Column<T>, row: T): string =>
  column.text?.(row) ?? String(column.value(row))

const natural = new Intl.Collator('en', { numeric: true })
/** Numbers by size, words and addresses as people count: AP 2 before AP 10. */
export const inOrder = (a: string | number, b: string | number): number =>
  typeof a === 'number' && typeof b === 'number' ? a - b : natural.compare(String(a), String(b))
