import fc from 'fast-check'
import { crc32, deflateSync } from 'node:zlib'
import { describe, expect, it } from 'vitest'
import { fitted, MOST_PICTURE_OCTETS, pictureFile, pointsOf, scaled } from '.'

const ascii = (text: string): Uint8Array => new TextEncoder().encode(text)
/** A PNG (ISO/IEC 15948 11.2.2) that says its size, with a line of nothing inside. */
function png(widthPx: number, heightPx: number): Uint8Array {
  const chunk = (type: string, data: Buffer): Buffer => {
    const body = Buffer.concat([Buffer.from(type, 'latin1'), data])
    const [length, sum] = [Buffer.alloc(4), Buffer.alloc(4)]
    length.writeUInt32BE(data.length)
    sum.writeUInt32BE(crc32(body))
    return Buffer.concat([length, body, sum])
  }
  const head = Buffer.alloc(13)
  head.writeUInt32BE(widthPx)
  head.writeUInt32BE(heightPx, 4)
  head[8] = 1
  return Buffer.concat([
    Buffer.from('\x89PNG\r\n\x1a\n', 'latin1'),
    chunk('IHDR', head),
    chunk('IDAT', deflateSync(Buffer.alloc(1000))),
    chunk('IEND', Buffer.alloc(0)),
  ])
}
const svg = (inside: string, attributes = 'viewBox="0 0 200 100"'): Uint8Array =>
  ascii(
    `<?xml version="1.0"?><svg xmlns="http://www.w3.org/2000/svg" ${attributes}>${inside}</svg>`,
  )
/** Ten of each of the one before: ten thousand million circles in a page of text. */
const repeated = Array.from(
  { length: 10 },
  (_, n) =>
    `<g id="g${n + 1}">${n === 0 ? '<circle r="1"/>' : `<use href="#g${n}"/>`.repeat(10)}</g>`,
).join('')

describe('a picture for a plan', () => {
  it('is told by its octets', () => {
    expect(pictureFile(png(800, 600))).toEqual({ kind: 'points', widthPx: 800, heightPx: 600 })
    expect(pictureFile(svg('<path d="M0 0h9"/>'))).toEqual({
      ...{ kind: 'drawing', widthPx: 200, heightPx: 100 },
    })
    expect(pictureFile(ascii('%PDF-1.7\n'))).toEqual({ kind: 'pages' })
    expect(
      pictureFile(svg('<g id="a"/>'.repeat(50) + '<use href="#a"/>'.repeat(50))),
    ).toMatchObject({ kind: 'drawing' })
  })
  it.each<[string, Uint8Array, RegExp]>([
    ['nothing', ascii(''), /^the file is empty/],
    [
      '100 megapixels',
      png(10_000, 10_000),
      /10000 x 10000 points, 100 megapixels; the most are 40/,
    ],
    ['a size beyond all sense', png(2 ** 31 - 1, 2 ** 31 - 1), /megapixels; the most are 40/],
    ['a picture cut in its head', png(800, 600).subarray(0, 18), /is cut or damaged/],
    ['a JPEG that is cut', Uint8Array.of(0xff, 0xd8, 0xff, 0xe0, 0, 16), /is cut or damaged/],
    ['text', ascii('ports, 24'), /^expected is a PNG, JPEG, WebP or SVG, or a page of a PDF/],
    ['a page', ascii('<html><body>svg</body></html>'), /^expected is a PNG/],
    ['a drawing without size', svg('', ''), /does not say how large it is/],
    ['a drawing that is cut', svg('<g><path').subarray(0, 110), /no whole XML/],
    [
      'entities of entities',
      ascii('<!DOCTYPE svg [<!ENTITY a "aa"><!ENTITY b "&a;&a;">]><svg width="1">&b;</svg>'),
      /declares entities/,
    ],
    ['ten thousand million circles', svg(repeated), /repeats its parts to over a thousand million/],
    ['too long a file', new Uint8Array(MOST_PICTURE_OCTETS + 1), /31 MiB; the most are 30/],
    ['a drawing of 6 MiB', svg(' '.repeat(6 * 1024 ** 2)), /at most 5 MiB/],
  ])('%s is refused in words', (_, octets, why) => {
    expect(pictureFile(octets)).toEqual({ refused: expect.stringMatching(why) })
  })
  it('that uses itself, or is nested deeply, comes to an end', () => {
    expect(pictureFile(svg('<g id="a"><use href="#a"/></g>'))).toMatchObject({ kind: 'drawing' })
    const deep = 3000
    expect(pictureFile(svg('<g>'.repeat(deep) + '</g>'.repeat(deep)))).toHaveProperty('refused')
  })
  it('of any octets is answered', () => {
    fc.assert(
      fc.property(
        fc.uint8Array({ maxLength: 400 }),
        fc.constantFrom(ascii(''), png(9, 9), svg('<g/>'), ascii('RIFF1234WEBPVP8X')),
        (noise, start) => {
          const answer = pictureFile(Uint8Array.from([...start.subarray(0, 60), ...noise]))
          return 'refused' in answer ? answer.refused.length > 9 : answer.kind.length > 0
        },
      ),
    )
  })
})

describe('a picture brought to scale', () => {
  const floor = { widthM: 40, depthM: 25 }
  const fileId = '7d8f4c7e-14a1-4f2e-9a53-0a2f8f0f3c11'
  it('fits in the plan first', () => {
    expect(fitted(floor, fileId, { widthPx: 1600, heightPx: 500 })).toMatchObject({
      ...{ widthM: 40, depthM: 12.5 },
    })
    expect(fitted(floor, fileId, { widthPx: 500, heightPx: 1000 })).toMatchObject({
      ...{ widthM: 12.5, depthM: 25 },
    })
  })
  it('has its two points as far apart as was said, and stays in proportion', () => {
    const metres = fc.double({ min: 0, max: 40, noNaN: true })
    fc.assert(
      fc.property(
        metres,
        metres,
        metres,
        metres,
        fc.double({ min: 1, max: 60, noNaN: true }),
        (...p) => {
          const [a, b, apart] = [{ x: p[0], y: p[1] }, { x: p[2], y: p[3] }, p[4]]
          const before = fitted(floor, fileId, { widthPx: 800, heightPx: 400 })
          const after = scaled({ ...floor, picture: before }, a, b, apart, false)
          if ('refused' in after) return Math.hypot(a.x - b.x, a.y - b.y) < 1
          const factor = after.picture!.widthM / before.widthM
          return (
            Math.abs(Math.hypot(a.x - b.x, a.y - b.y) * factor - apart) < 0.01 * apart &&
            Math.abs(after.picture!.widthM / after.picture!.depthM - 2) < 0.01 &&
            after.widthM >= 40 &&
            after.widthM >= after.picture!.widthM
          )
        },
      ),
    )
  })
  it('takes an empty plan along', () => {
    const picture = fitted(floor, fileId, { widthPx: 800, heightPx: 400 })
    expect(scaled({ ...floor, picture }, { x: 0, y: 0 }, { x: 20, y: 0 }, 10, true)).toMatchObject({
      ...{ widthM: 20, depthM: 10 },
    })
  })
  it.each<[string, [number, number, number, number, number], RegExp]>([
    ['one spot twice', [3, 4, 3, 4, 5], /both points are the same/],
    ['no distance', [3, 4, 8, 4, 0], /say how far apart/],
    ['no number', [3, 4, 8, 4, NaN], /say how far apart/],
    ['kilometres', [3, 4, 3.02, 4, 900], /would be/],
  ])('%s is refused', (_, [ax, ay, bx, by, apart], why) => {
    const picture = fitted(floor, fileId, { widthPx: 800, heightPx: 400 })
    expect(scaled({ ...floor, picture }, { x: ax, y: ay }, { x: bx, y: by }, apart, false)).toEqual(
      { refused: expect.stringMatching(why) },
    )
  })
  it('points are read as they are typed', () => {
    expect(pointsOf(' 1,2  3.5;4 ')).toEqual([
      { x: 1, y: 2 },
      { x: 3.5, y: 4 },
    ])
    expect(pointsOf('1,2 3')).toBeNull()
    expect(pointsOf('1, 2')).toBeNull()
  })
})
