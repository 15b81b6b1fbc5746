/** Opens the site of the route and follows it; gives what went wrong, in words. */
export function useOpenSite(): { siteId: ComputedRef<string>; failed: Ref<string | null> } {
  const route = useRoute()
  const site = useSite()
  const field = useField()
  /** The last one there was, while the way leads out of it. */
  const siteId = computed<string>((before) =>
    typeof route.params.site === 'string' ? route.params.site : (before ?? ''),
  )
  const failed = ref<string | null>(null)
  watch(
    siteId,
    async (id) => {
      if (!id) return
      failed.value = null
      try {
        await site.open(id)
        await field.follow()
      } catch (error) {
        failed.value =
          (error as { status?: number }).status === undefined
            ? 'The server does not answer, and this site was not opened on this device before. ' +
              'Try again where there is a network.'
            : errorText(error)
      }
    },
    { immediate: true },
  )
  return { siteId, failed }
}
