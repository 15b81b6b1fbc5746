<script setup lang="ts">
/** The controller's address to paste into a device, and a check of what somebody typed. */
import { controllerUrl } from '@mast/core/adoption'
import { checkControllerAddress } from '@mast/core/field'

const site = useSite()
const url = computed(() => (site.model ? controllerUrl(site.model) : null))
const typed = ref('')
const copied = ref(false)
const verdict = computed(() =>
  typed.value && url.value ? checkControllerAddress(typed.value, url.value) : null,
)
async function copy(): Promise<void> {
  await navigator.clipboard.writeText(url.value!).then(
    () => {
      copied.value = true
    },
    () => {},
  )
}
</script>

<template>
  <section v-if="url" aria-label="Controller address">
    <h2>Controller address</h2>
    <p class="row">
      <code class="mono">{{ url }}</code><v-btn size="small" variant="text" @click="copy">{{
        copied ? 'Copied' : 'Copy'
      }}</v-btn>
    </p>
    <v-text-field v-model="typed" label="Check what was typed" class="mono" />
    <p v-if="verdict" class="mark wrap" :class="verdict.ok ? 'clear' : 'blockers'" role="status">
      <ShellStateShape :kind="verdict.ok ? 'clear' : 'blockers'" />{{
        verdict.ok ? 'Just so' : `${verdict.reason}. Paste ${verdict.paste}`
      }}
    </p>
  </section>
</template>

<style scoped>
p {
  margin: 4px 0;
}
</style>
