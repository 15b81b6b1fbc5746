/** C-33: a network name that tells whose it is, or what sends it. */
import { defineRule } from '../../findings/rule'
import { listWords } from '../../words'

/** Shorter words of a name tell nobody anything. */
const LEAST_LETTERS = 4
/** Words of places and trades that many share (common practice). */
const PLAIN = new Set(
  'site street road house hall home office shop store cafe hotel guest guests visitor visitors harbour marina'.split(
    ' ',
  ),
)
/** What equipment is called, and what factory names have in them. */
const EQUIPMENT =
  /(^|[^a-z])(router|gateway|modem|firewall|switch|controller|access ?point|extender|repeater|default|setup)($|[^a-z])/i
/** Letters, then digits: the shape of a model or of a serial, as factory names have it. */
const MODEL = /(^|[^a-z0-9])[a-z]{2,8}[-_ ]?[0-9a-f]*\d[0-9a-f]{3,}($|[^a-z0-9])/i

const wordsOf = (text: string): string[] =>
  text
    .normalize('NFKD')
    .toLowerCase()
    .split(/[^\p{L}\p{N}]+/u)
    .filter((w) => w.length >= LEAST_LETTERS && !PLAIN.has(w))

export default defineRule({
  id: 'wifi/telltale-name',
  severity: 'caution',
  catches: ['C-33'],
  title: 'A network name that tells whose it is',
  sheet: 'wifi',
  reads: ['site', 'wirelessNetworks', 'profiles'],
  *check(model) {
    const { site, wirelessNetworks, profiles } = model.plan
    const said = new Map<string, string>()
    const note = (text: string, what: string): void => {
      for (const w of wordsOf(text)) if (!said.has(w)) said.set(w, what)
    }
    note(site.name, `the site, ${site.name}`)
    if (site.domain) note(site.domain.split('.')[0]!, `its domain, ${site.domain}`)
    const kinds = Object.values(profiles).map((p) => p.name.toLowerCase())
    for (const w of Object.values(wirelessNetworks)) {
      const name = w.name.toLowerCase()
      const owners = new Set(wordsOf(w.name).flatMap((word) => said.get(word) ?? []))
      const equipment =
        EQUIPMENT.exec(w.name)?.[2] ??
        kinds.find((k) => name.includes(k)) ??
        MODEL.exec(w.name)?.[0].trim()
      if (owners.size === 0 && equipment === undefined) continue
      yield {
        subjects: [w.id],
        text:
          owners.size > 0
            ? `'${w.name}' names ${listWords([...owners])}.`
            : `'${w.name}' tells what sends it: '${equipment!}'.`,
        why: 'Whoever stands in the street learns whose network it is, or what to try against it.',
        fixes: [],
      }
    }
  },
})
