/** The bridge that the sheet shows, with all that is reckoned of it; what is being dragged counts. */
import type { Bridge, BridgeEnd } from '@mast/core/plan'
import { isReckoned, reckon, type EndName, type Reckoned } from '@mast/core/bridges'

const chosen = ref<string | null>(null)
const draft = shallowRef<{ readonly id: string; readonly changes: Partial<Bridge> } | null>(null)

export function useBridge() {
  const site = useSite()
  const all = computed(() =>
    Object.values(site.opened.plan.bridges).sort((a, b) => a.name.localeCompare(b.name)),
  )
  /** What a finding selects is the bridge itself, or a unit at one of its ends. */
  const ofSelected = (id: string | null): string | undefined => {
    if (id === null) return undefined
    const { plan } = site.opened
    if (plan.bridges[id]) return id
    return all.value.find((b) => {
      const link = plan.links[b.linkId]!
      return b.linkId === id || [link.a, link.b].some((p) => plan.ports[p]?.deviceId === id)
    })?.id
  }
  watch(
    () => site.selected,
    (id) => {
      const found = ofSelected(id)
      if (found !== undefined) chosen.value = found
    },
    { immediate: true },
  )
  const bridge = computed<Bridge | null>(
    () => all.value.find((b) => b.id === chosen.value) ?? all.value[0] ?? null,
  )
  /** As it would be with what is dragged. */
  const shown = computed<Bridge | null>(() =>
    bridge.value && draft.value?.id === bridge.value.id
      ? { ...bridge.value, ...draft.value.changes }
      : bridge.value,
  )
  const today = new Date(new Date().toISOString().slice(0, 10))
  const found = computed(() => (shown.value ? reckon(site.opened.model, shown.value, today) : null))
  const reckoned = computed<Reckoned | null>(() =>
    found.value && isReckoned(found.value) ? found.value : null,
  )
  const missing = computed(() =>
    found.value && !isReckoned(found.value) ? found.value.missing : [],
  )
  const change = (changes: Partial<Bridge>): string | undefined =>
    bridge.value ? site.edit('changeBridge', { id: bridge.value.id, changes }) : undefined
  const changeEnd = (end: EndName, changes: Partial<BridgeEnd>): string | undefined =>
    bridge.value ? change({ [end]: { ...bridge.value[end], ...changes } }) : undefined
  return {
    all,
    bridge,
    shown,
    reckoned,
    missing,
    today,
    change,
    changeEnd,
    choose: (id: string): void => {
      chosen.value = id
    },
    /** While something is dragged; null puts it back. */
    drag: (changes: Partial<Bridge> | null): void => {
      draft.value = changes && bridge.value ? { id: bridge.value.id, changes } : null
    },
  }
}
