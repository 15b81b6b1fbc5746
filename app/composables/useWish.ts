/** What somebody asked for from anywhere: the sheet that has the form for it opens it. */
export type Wish = 'line' | 'device' | 'segment'

const wished = ref<Wish | null>(null)
export const useWish = (): Ref<Wish | null> => wished

/** Runs once for each time that it is wished for, also where the wish was there before. */
export function onWish(wish: Wish, grant: () => void): void {
  watch(
    wished,
    (now) => {
      if (now !== wish) return
      wished.value = null
      grant()
    },
    { immediate: true },
  )
}
