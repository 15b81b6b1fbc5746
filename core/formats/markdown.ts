/**
 * Names as text and nothing else in Markdown: no marks, no links, no pictures, no lines of their own
 * (CommonMark 2.4: a backslash makes punctuation plain).
 */
export const oneLine = (text: string): string => text.replace(/[\s\u0085\u2028\u2029]+/g, ' ')
export const plain = (text: string): string =>
  oneLine(text).replace(/([\\`*_|<>[\](){}#!~&$^])/g, '\\$1')
