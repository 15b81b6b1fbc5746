<script setup lang="ts">
/** Where a link leads that opens once: for people without an account. */
import { openHandOut, readHandOut } from '@mast/api'

const route = useRoute()
const token = String(route.params.token)
const about = ref<{ name: string; expiresAt: string } | null>(null)
const opened = ref<{ name: string; text: string; svg: string } | null>(null)
const refused = ref<string | undefined>()
useHead({ title: 'A file for one device', meta: [{ name: 'robots', content: 'noindex' }] })

onMounted(async () => {
  try {
    about.value = await ask(readHandOut, { params: { token } })
  } catch (error) {
    refused.value = errorText(error)
  }
})
async function open(): Promise<void> {
  try {
    const [{ name, text }, { default: QRCode }] = await Promise.all([
      ask(openHandOut, { params: { token } }),
      import('qrcode'),
    ])
    opened.value = {
      name,
      text,
      svg: `data:image/svg+xml,${encodeURIComponent(
        await QRCode.toString(text, { type: 'svg', margin: 2, errorCorrectionLevel: 'L' }),
      )}`,
    }
  } catch (error) {
    refused.value = errorText(error)
  }
}
function save(): void {
  if (opened.value) saveAs('tunnel.conf', 'text/plain', opened.value.text)
}
</script>

<template>
  <main class="once">
    <h1>A file for one device</h1>
    <template v-if="opened">
      <p>
        <b>{{ opened.name }}</b>
      </p>
      <img :src="opened.svg" alt="Code with the file, for the tunnel program of a phone" />
      <p>Scan it with the device that it is for, or save it there. It is not shown again.</p>
      <v-btn color="primary" variant="flat" size="large" @click="save">Save the file</v-btn>
    </template>
    <template v-else-if="about">
      <p>
        <b>{{ about.name }}</b>, until {{ momentText(about.expiresAt) }}.
      </p>
      <p>
        It opens once. Open it on the device that it is for, or beside it, and where nobody looks
        over your shoulder.
      </p>
      <v-btn color="primary" variant="flat" size="large" @click="open">Open it now</v-btn>
    </template>
    <Refusal :says="refused" />
  </main>
</template>

<style scoped>
.once {
  max-width: 460px;
  margin: 40px auto;
  padding: 0 20px;
}
img {
  width: min(360px, 100%);
  background: #fff;
  display: block;
  margin-bottom: 12px;
}
</style>
