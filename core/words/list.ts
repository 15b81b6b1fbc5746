/** Names as one says them. */
const LIST = new Intl.ListFormat('en-GB', { type: 'conjunction' })

/** `A`, `A and B`, `A, B and C`. */
export const listWords = (names: readonly string[]): string => LIST.format(names)
/** `A` of one, `A and B both` of two, `A, B and C all` of more. */
export const togetherWords = (names: readonly string[]): string =>
  `${listWords(names)}${names.length < 2 ? '' : names.length === 2 ? ' both' : ' all'}`

/** `1 pair`, `3 pairs`. */
export const countOf = (n: number, one: string): string => `${n} ${one}${n === 1 ? '' : 's'}`
