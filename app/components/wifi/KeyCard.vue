<script setup lang="ts">
/** A key that is shown: how long it takes to guess, what it makes, and a card to print. */
import type { WirelessNetwork } from '@mast/core/plan'

const { network, secret } = defineProps<{ network: WirelessNetwork; secret: string }>()
const site = useSite()
const card = ref<{ svg: string; says: string; problems: readonly string[]; key: string } | null>(
  null,
)
watch(
  () => [secret, network.name, network.security, network.isHidden] as const,
  async () => {
    const [{ keyStrength, timeWords, preSharedKey, joinText }, { default: QRCode }] =
      await Promise.all([import('@mast/core/wifi/keys'), import('qrcode')])
    const known = [network.name, site.opened.plan.site.name]
    const { problems, seconds } = keyStrength(secret, known)
    card.value = {
      problems,
      says: `Guessed within ${timeWords(seconds)}, at a million tries a second.`,
      key: preSharedKey(secret, network.name),
      svg: `data:image/svg+xml,${encodeURIComponent(
        await QRCode.toString(joinText(network, secret), { type: 'svg', margin: 1 }),
      )}`,
    }
  },
  { immediate: true },
)
</script>

<template>
  <figure v-if="card" class="card" :aria-label="`Card of ${network.name}`">
    <img :src="card.svg" width="148" height="148" :alt="`Code that joins ${network.name}`" />
    <figcaption>
      <b>{{ network.name }}</b><br /><span class="mono">{{ secret }}</span>
      <p class="faint">{{ card.says }}</p>
      <p v-if="card.problems.length" class="weak" role="status">
        C-31: {{ card.problems.join('; ') }}.
      </p>
      <details>
        <summary>The pre-shared key that it makes</summary>
        <span class="mono long">{{ card.key }}</span>
        <p class="faint">
          PBKDF2 of the passphrase and the name, 4096 rounds (IEEE 802.11i); for programs that want
          it so. With another name it is another.
        </p>
      </details>
    </figcaption>
  </figure>
</template>

<style scoped>
.card {
  display: flex;
  flex-wrap: wrap;
  gap: 16px;
  margin: 8px 0;
  border: 1px solid var(--hair);
  padding: 12px;
  max-width: 640px;
}
.card img {
  background: #fff;
}
.card figcaption {
  flex: 1 1 240px;
}
.long {
  overflow-wrap: anywhere;
}
.weak {
  color: var(--caution);
}
</style>
