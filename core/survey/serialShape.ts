/**
 * Serials of one kind of device look alike; one that does not was mistyped, or read off another
 * box.
 */

/** ? for a letter, # for a digit, everything else for itself: AM-???-##### fits AM-GAT-48237. */
export const fitsShape = (serial: string, shape: string): boolean =>
  serial.length === shape.length &&
  [...shape].every((s, i) =>
    (s === '#' ? /[0-9]/ : s === '?' ? /[A-Z]/ : { test: (c: string) => c === s }).test(serial[i]!),
  )

/** What is wrong with a serial, in words; null where it fits. */
export function serialComplaint(serial: string, shape: string | null): string | null {
  if (!shape || fitsShape(serial, shape)) return null
  const example = shape.replace(/#/g, '4').replace(/\?/g, 'G')
  if (serial.length !== shape.length)
    return (
      `${serial} has ${serial.length} characters; serials of this kind have ${shape.length}, ` +
      `for example ${example}`
    )
  const meant = [...serial]
    .map((c, i) =>
      shape[i] === '#'
        ? (({ O: '0', I: '1', L: '1', S: '5', B: '8' } as Record<string, string>)[c] ?? c)
        : c,
    )
    .join('')
  return (
    `${serial} does not look like a serial of this kind, for example ` +
    `${example}${fitsShape(meant, shape) ? `; is it ${meant}?` : ''}`
  )
}
