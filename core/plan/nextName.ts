/** The name of the next one of its kind: `Quay AP` is followed by `Quay AP 2`, `ap-09` by `ap-10`. */
import type { SitePlan } from './schema'

export function nextName(plan: SitePlan, name: string): string {
  const taken = new Set(Object.values(plan.devices).map((d) => d.name))
  const [, stem = name, digits] = /^(.*?)(\d{1,9})$/.exec(name) ?? []
  const width = digits?.length ?? 0
  for (let n = digits === undefined ? 2 : Number(digits) + 1; ; n += 1) {
    const next = digits === undefined ? `${name} ${n}` : stem + String(n).padStart(width, '0')
    if (!taken.has(next)) return next
  }
}
