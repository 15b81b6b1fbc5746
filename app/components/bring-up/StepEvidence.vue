<script setup lang="ts">
import { pathOf, readPhotograph } from '@mast/api'
/** What was seen at a step: photographs, readings, notes. Kept here until the server has them. */
const props = defineProps<{ stepId: string }>()
const site = useSite()
const field = useField()
const text = ref('')
const refused = ref<string | null>(null)
const mine = computed(() => field.evidence.filter((e) => e.stepId === props.stepId))
const words = { photo: 'photograph', reading: 'reading', note: 'note' } as Record<string, string>
/**
 * What was typed belongs to one thing: the next one that is kept while this is written down does
 * not get it as well.
 */
function taken(): string {
  const caption = text.value.trim()
  text.value = ''
  return caption
}
async function photograph(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  const [file] = input.files ?? []
  if (!file) return
  refused.value = null
  const caption = taken()
  try {
    await field.keepEvidence(
      'photo',
      props.stepId,
      caption || file.name,
      await photographFrom(file),
    )
  } catch {
    refused.value = `${file.name} cannot be read as a picture; take a JPEG or PNG.`
    text.value ||= caption
  }
  input.value = ''
}
async function write(): Promise<void> {
  const caption = taken()
  if (caption)
    await field.keepEvidence(/-?\d/.test(caption) ? 'reading' : 'note', props.stepId, caption, null)
}
const source = (id: string, picture: string | null | undefined): string =>
  picture ?? pathOf(readPhotograph, { params: { site: site.opened.id, id } })
</script>

<template>
  <section class="evidence" aria-label="Evidence of this step">
    <ul v-if="mine.length">
      <li v-for="e in mine" :key="e.id">
        <a v-if="e.mediaType" :href="source(e.id, e.unsent?.picture)" target="_blank" rel="noopener"
          ><img
            :src="source(e.id, e.unsent?.picture)"
            :alt="e.body.text || 'photograph'"
            width="72"
            height="54"
        /></a>
        <span
          >{{ words[e.kind] ?? e.kind }}
          <span class="mono faint">{{ timeText(e.at) }}</span><br />{{ e.body.text }}</span
        >
        <span v-if="e.unsent" class="mark" :class="e.unsent.refused ? 'blockers' : 'cautions'"
          ><ShellStateShape :kind="e.unsent.refused ? 'blockers' : 'cautions'" />{{
            e.unsent.refused ?? 'kept here, not sent yet'
          }}
          <v-btn v-if="e.unsent.refused" size="x-small" variant="text" @click="field.discard(e.id)"
            >Discard</v-btn
          ></span
        >
      </li>
    </ul>
    <form class="row" @submit.prevent="write">
      <v-text-field v-model="text" label="Reading or note" style="min-width: 180px" />
      <v-btn type="submit" size="small" :disabled="!text.trim()">Keep it</v-btn>
      <label class="photo"
        >Photograph<input
          type="file"
          accept="image/*"
          capture="environment"
          class="visually-hidden"
          aria-label="Photograph"
          @change="photograph"
      /></label>
    </form>
    <Refusal :says="refused" />
  </section>
</template>

<style scoped>
.evidence {
  border-top: 1px solid var(--hair);
  margin-top: 10px;
  padding-top: 8px;
}
ul {
  list-style: none;
  padding: 0;
  margin: 0 0 8px;
  display: flex;
  flex-wrap: wrap;
  gap: 8px 20px;
}
li {
  display: flex;
  gap: 8px;
  align-items: center;
  font-size: 13px;
}
img {
  object-fit: cover;
  border: 1px solid var(--hair);
  display: block;
}
.photo {
  border: 1px solid var(--hair);
  border-radius: 2px;
  padding: 5px 12px;
  cursor: pointer;
  position: relative;
}
.photo:focus-within {
  outline: 2px solid var(--action);
  outline-offset: 1px;
}
.mark {
  white-space: normal;
}
@media (max-width: 600px) {
  .photo {
    min-height: 44px;
    display: inline-flex;
    align-items: center;
  }
}
</style>
