/** Who works on a site today, and which of them holds this device. Kept in this browser. */
import { useLocalStorage } from '@vueuse/core'

export interface DayPeople {
  /** At least one. */
  readonly names: readonly string[]
  /** Whose steps are shown first; null shows all. */
  readonly own: number | null
}
const ALONE: DayPeople = { names: ['First'], own: null }
const ORDINALS = ['First', 'Second', 'Third', 'Fourth', 'Fifth', 'Sixth']
export const PEOPLE_MOST = ORDINALS.length

export function useDayPeople(siteId: string): {
  people: Ref<DayPeople>
  setCount: (count: number) => void
  nameOf: (person: number) => string
} {
  const people = useLocalStorage<DayPeople>(`day-people.${siteId}`, ALONE)
  return {
    people,
    setCount(count) {
      const { names, own } = people.value
      people.value = {
        names: Array.from({ length: count }, (_, i) => names[i] ?? ORDINALS[i]!),
        own: own !== null && own < count ? own : null,
      }
    },
    nameOf: (person) => people.value.names[person] || (ORDINALS[person] ?? ''),
  }
}
