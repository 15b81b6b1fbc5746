<script setup lang="ts">
/** A picture under the plan: put in, brought to scale by two points, moved, taken away. */
import type { Floor } from '@mast/core/plan'
import { fitted, pointsOf, scaled } from '@mast/core/wifi/drawing'

const { floor, isEmpty } = defineProps<{
  floor: Floor
  /** Nothing is drawn on it yet, so that it may become as large as its picture. */
  isEmpty: boolean
}>()
/** The two points, as they are tapped on the plan or typed; null while nobody measures. */
const ends = defineModel<string | null>('ends', { required: true })
const site = useSite()
const field = useField()
const page = ref(1)
const apart = ref('')
const isReading = ref(false)
const refused = ref<string | undefined>()
const change = (changes: Partial<Floor>): string | undefined =>
  site.edit('changeFloor', { id: floor.id, changes })

async function put(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  const [file] = input.files ?? []
  input.value = ''
  if (!file) return
  const of = floor
  refused.value = undefined
  isReading.value = true
  try {
    const { widthPx, heightPx, ...picture } = await placePictureFrom(file, page.value)
    const fileId = await field.keepEvidence('picture', null, `${of.name}: ${file.name}`, picture)
    refused.value = site.edit('changeFloor', {
      id: of.id,
      changes: { picture: fitted(of, fileId, { widthPx, heightPx }) },
    })
    if (!refused.value) ends.value = ''
  } catch (error) {
    refused.value = (error as Error).message
  }
  isReading.value = false
}
function scale(): void {
  const points = pointsOf(ends.value ?? '')
  if (points?.length !== 2) {
    refused.value = 'expected are two points, as 3,4 9,4: tap them on the plan or type them'
    return
  }
  const next = scaled(floor, points[0]!, points[1]!, Number(apart.value.replace(',', '.')), isEmpty)
  if ('refused' in next) {
    refused.value = next.refused
    return
  }
  refused.value = change(next)
  if (refused.value) return
  ends.value = null
  apart.value = ''
}
const corner = computed(() => (floor.picture ? `${floor.picture.x},${floor.picture.y}` : ''))
function move(text: string): string | undefined {
  const points = pointsOf(text)
  if (points?.length !== 1) return 'expected is one point, as 0,0'
  return change({ picture: { ...floor.picture!, ...points[0]! } })
}
</script>

<template>
  <section aria-label="Picture under the plan" class="no-print">
    <div class="row">
      <label class="pick"
        >{{ floor.picture ? 'Another picture' : 'Put a picture under it'
        }}<input
          type="file"
          accept="image/png,image/jpeg,image/webp,image/svg+xml,application/pdf"
          class="visually-hidden"
          aria-label="Picture of the place"
          @change="put"
      /></label>
      <v-text-field
        v-model.number="page"
        type="number"
        min="1"
        label="Page of a PDF"
        style="max-width: 120px"
      />
      <span v-if="isReading" class="faint" role="status">reading it</span>
      <template v-if="floor.picture">
        <v-btn v-if="ends === null" size="small" variant="text" @click="ends = ''"
          >Bring it to scale</v-btn
        >
        <FieldsEditField label="Its upper left corner at, m" :value="corner" :save="move" mono />
        <v-btn size="small" variant="text" @click="refused = change({ picture: null })"
          >Take it away</v-btn
        >
      </template>
    </div>
    <form v-if="floor.picture && ends !== null" class="row" @submit.prevent="scale">
      <v-text-field
        v-model="ends"
        label="Tap two points that you know, or type them"
        placeholder="3,4 9,4"
        style="max-width: 320px"
      />
      <v-text-field
        v-model="apart"
        label="They are apart"
        suffix="m"
        inputmode="decimal"
        style="max-width: 150px"
      />
      <v-btn type="submit" color="primary" variant="flat">Scale it</v-btn>
      <v-btn variant="text" @click="ends = null">Leave it</v-btn>
    </form>
    <Refusal :says="refused" />
  </section>
</template>

<style scoped>
.row {
  margin-top: 10px;
}
</style>
