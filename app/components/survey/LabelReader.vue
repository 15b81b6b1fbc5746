<script setup lang="ts">
/**
 * Reads a bar code or a two-dimensional code off a label, through the camera or from a photograph.
 * The picture stays in the browser.
 */
import { BrowserMultiFormatReader, type IScannerControls } from '@zxing/browser'

const props = defineProps<{ what: string }>()
const emit = defineEmits<{ read: [text: string]; close: [] }>()
const video = ref<HTMLVideoElement | null>(null)
const said = ref<string | null>(null)
const watching = ref(false)
const reader = new BrowserMultiFormatReader()
let controls: IScannerControls | undefined

/** Labels hold several codes; one that starts with a key, SN: or MAC=, is taken without it. */
const plain = (text: string): string => text.trim().replace(/^(s\/?n|serial|mac|hw)\s*[:=]\s*/i, '')

async function camera(): Promise<void> {
  said.value = null
  watching.value = true
  try {
    controls = await reader.decodeFromVideoDevice(undefined, video.value!, (result) => {
      if (result) {
        stop()
        emit('read', plain(result.getText()))
      }
    })
  } catch {
    watching.value = false
    said.value =
      'The camera cannot be used here; take a photograph of the label instead, or type what it says.'
  }
}
function stop(): void {
  controls?.stop()
  controls = undefined
  watching.value = false
}
async function photograph(chosen: File | File[] | null): Promise<void> {
  const file = Array.isArray(chosen) ? chosen[0] : chosen
  if (!file) return
  said.value = null
  const url = URL.createObjectURL(file)
  try {
    emit('read', plain((await reader.decodeFromImageUrl(url)).getText()))
  } catch {
    said.value =
      'No code was found in this picture; come closer, straight on, without a shine, or type what the label says.'
  } finally {
    URL.revokeObjectURL(url)
  }
}
onBeforeUnmount(stop)
</script>

<template>
  <div class="reader" :aria-label="`Read the ${props.what}`">
    <video v-show="watching" ref="video" muted playsinline aria-label="What the camera sees" />
    <div class="row">
      <v-btn size="small" @click="camera">Use the camera</v-btn>
      <v-file-input
        label="A photograph of the label"
        accept="image/*"
        density="compact"
        hide-details
        prepend-icon=""
        style="max-width: 240px"
        @update:model-value="photograph"
      />
      <v-btn size="small" variant="text" @click="emit('close')">Close</v-btn>
    </div>
    <p v-if="said" class="mark cautions" style="white-space: normal" role="alert">{{ said }}</p>
  </div>
</template>

<style scoped>
.reader {
  border-top: 1px solid var(--hair);
  padding-top: 8px;
}
video {
  width: 100%;
  max-width: 420px;
  max-height: 240px;
  display: block;
  background: var(--desk);
}
</style>
