/**
 * C-08: a "private" range that is really somebody's public space; 172.0.x.x is the classic (RFC
 * 1918 has 172.16-172.31).
 */
import { editCall } from '../../plan'
import { classifyPrefix, parsePrefix } from '../../addressing'
import { moveToFreeSpace } from '../../findings/relocation'
import { defineRule } from '../../findings/rule'

/** What is often meant by a prefix that begins like one of RFC 1918. */
export const hintOf172 = (text: string): string =>
  text.startsWith('172.') ? ' Private space under 172 runs from 172.16.0.0 to 172.31.255.255.' : ''

export default defineRule({
  id: 'addressing/public-space',
  severity: 'blocker',
  catches: ['C-08'],
  title: 'A segment lies outside private space',
  sheet: 'addresses',
  reads: ['site', 'segments', 'devices', 'profiles', 'uplinks', 'knownNetworks'],
  *check(model) {
    const outside = (text: string): string | undefined => {
      const p = parsePrefix(text)
      const entry = p && classifyPrefix(p)
      return entry && entry.kind !== 'private' ? `${entry.name} (${entry.source})` : undefined
    }
    for (const space of model.plan.site.addressSpace) {
      const what = outside(space)
      if (what)
        yield {
          subjects: ['site'],
          key: `space:${space}`,
          text: `The site's address space ${space} is ${what}, not private space.${hintOf172(space)}`,
          why: 'Every segment placed in it would shadow addresses that belong to others.',
          fixes: [
            {
              label: 'Use 10.2.0.0/16',
              edits: [editCall('setAddressSpace', { addressSpace: ['10.2.0.0/16'] })],
            },
          ],
        }
    }
    for (const s of model.segments) {
      const what = s.subnet ? outside(s.subnet) : undefined
      if (!what) continue
      yield {
        subjects: [s.id],
        text: `${s.name} ${s.subnet} is ${what}.${hintOf172(s.subnet!)}`,
        why:
          'Whoever really has these addresses cannot be reached from here, and the numbers may ' +
          'not be lawfully yours.',
        numbers: [{ label: 'registry entry', value: what }],
        fixes: moveToFreeSpace(model, s),
      }
    }
  },
})
