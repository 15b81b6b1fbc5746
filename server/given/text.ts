/** Text that can be kept and written on. */

/** Whether a database of UTF-8 can hold it: no NUL, no half of a surrogate pair (RFC 3629 3). */
export const isPlainText = (text: string): boolean => !text.includes('\0') && text.isWellFormed()

/**
 * One line for a log, whatever was asked for: control characters, line breaks and direction marks
 * as escapes, and not endless.
 */
export const logLine = (text: string): string =>
  text.slice(0, 300).replace(
    // eslint-disable-next-line no-control-regex -- these are what it takes out
    /[\u0000-\u001f\u007f-\u009f\u2028\u2029\u202a-\u202e\u2066-\u2069\\]/g,
    (c) => `\\u${c.charCodeAt(0).toString(16).padStart(4, '0')}`,
  )
