import { execFileSync } from 'node:child_process'
import { readdirSync, readFileSync } from 'node:fs'
import { dirname, join } from 'node:path'
import { createRequire } from 'node:module'
import * as fontkit from 'fontkit'
import { expect, it } from 'vitest'

/** What a package of a font brings, all its subsets together. */
function glyphsOf(name: string): (codePoint: number) => boolean {
  const folder = join(
    dirname(createRequire(import.meta.url).resolve(`${name}/package.json`)),
    'files',
  )
  const fonts = readdirSync(folder)
    .filter((f) => f.endsWith('.woff2') && !f.includes('italic'))
    .map((f) => fontkit.openSync(join(folder, f)) as fontkit.Font)
  return (codePoint) => fonts.some((f) => f.hasGlyphForCodePoint(codePoint))
}

it('every character that the screens say has a glyph in the fonts that are shipped', () => {
  const text = glyphsOf('@fontsource-variable/atkinson-hyperlegible-next')
  const mono = glyphsOf('@fontsource/atkinson-hyperlegible-mono')
  expect([...'AZaz09'].every((c) => text(c.codePointAt(0)!) && mono(c.codePointAt(0)!))).toBe(true)
  expect(text(0x23da)).toBe(false)
  const sources = execFileSync('git', ['ls-files', 'app', 'core', 'api', 'demo'], {
    encoding: 'utf8',
  })
    .split('\n')
    .filter((f) => /\.(vue|ts)$/.test(f) && !f.endsWith('.test.ts') && !f.endsWith('/cases.ts'))
  const missing = sources.flatMap((file) =>
    [...new Set(readFileSync(file, 'utf8'))]
      .filter((c) => c > '\u007f')
      .filter((c) => !text(c.codePointAt(0)!) || !mono(c.codePointAt(0)!))
      .map((c) => `${c} (U+${c.codePointAt(0)!.toString(16)}) in ${file}`),
  )
  expect(missing).toEqual([])
})
