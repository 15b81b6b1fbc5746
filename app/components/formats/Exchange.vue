<script setup lang="ts">
/**
 * What a sheet is about, out to and in from the files of other programs. Reading shows first what it
 * would do.
 */
import {
  decodeText,
  formatOf,
  formats,
  MAX_CSV_OCTETS,
  readable,
  type Format,
} from '@mast/core/formats'

const props = defineProps<{ sheet: string }>()
const site = useSite()
const saveInFormat = useSaveInFormat()
const own = formats
  .filter((f) => f.sheet === props.sheet)
  .sort((a, b) => a.title.localeCompare(b.title))
const outgoing = own.filter((f) => f.write).map((f) => ({ title: f.title, value: f.id }))
const incoming = readable.filter((f) => f.sheet === props.sheet)
const chosen = ref(outgoing[0]?.value)
const refused = ref<string | undefined>()
const save = async (): Promise<void> => {
  refused.value = await saveInFormat(chosen.value!)
}

const picked = shallowRef<{ name: string; text: string; format: Format } | null>(null)
const reading = computed(
  () => picked.value?.format.read!(site.opened.plan, picked.value.text, picked.value.name) ?? null,
)
/** Whether what the plan does not know is taken in as well. */
const takeIn = ref(false)
async function pick(given: File | File[] | null): Promise<void> {
  const file = Array.isArray(given) ? given[0] : given
  refused.value = undefined
  picked.value = null
  if (!file) return
  if (file.size > MAX_CSV_OCTETS) {
    refused.value = `${file.name} is larger than ${MAX_CSV_OCTETS / 1e6} MB; split it`
    return
  }
  const decoded = decodeText(new Uint8Array(await file.arrayBuffer()))
  if ('problem' in decoded) {
    refused.value = `${file.name}, line ${decoded.problem.line}: ${decoded.problem.reason}`
    return
  }
  const format = formatOf(file.name, decoded.text, incoming)
  takeIn.value = false
  if (format) picked.value = { name: file.name, text: decoded.text, format }
  else refused.value = `${file.name} is none of: ${incoming.map((f) => f.title).join(', ')}`
}
/** Of the whole plan: a file is of all of it. */
const blockers = computed(
  () => site.analysis?.findings.filter((f) => f.severity === 'blocker').length ?? 0,
)
const newcomers = computed(
  () => reading.value?.newcomers.flatMap((n) => (n.takeIn ? [n.takeIn] : [])) ?? [],
)
const edits = computed(() => [
  ...(reading.value?.edits ?? []),
  ...(takeIn.value ? newcomers.value : []),
])
function bringIn(): void {
  refused.value = site.mend(`From ${picked.value!.name}: ${reading.value!.said}`, edits.value)
  if (!refused.value) picked.value = null
}
</script>

<template>
  <section v-if="own.length" class="no-print" aria-label="Files of other programs">
    <h2>
      {{ outgoing.length === 0 ? 'From files' : incoming.length ? 'Out and in' : 'As a file' }}
    </h2>
    <div class="row">
      <v-select
        v-if="outgoing.length > 1"
        v-model="chosen"
        label="Format"
        :items="outgoing"
        style="max-width: 240px"
      /><span v-else>{{ outgoing[0]?.title ?? incoming.map((f) => f.title).join(', ') }}</span
      ><v-btn v-if="outgoing.length" @click="save">Save the file</v-btn>
      <v-file-input
        v-if="incoming.length"
        label="Read a file"
        density="compact"
        hide-details
        prepend-icon=""
        style="max-width: 230px"
        @update:model-value="pick"
      />
    </div>
    <p v-if="outgoing.length && blockers" class="mark cautions wrap">
      <ShellStateShape kind="cautions" />The plan has {{ blockers }}
      {{ blockers === 1 ? 'blocker' : 'blockers' }}; what is written has
      {{ blockers === 1 ? 'it' : 'them' }} too.
    </p>
    <div v-if="picked && reading" class="in-place" aria-label="What is in the file">
      <p>
        <b>{{ picked.name }}</b>, {{ picked.format.title }}: {{ reading.said
        }}{{
          reading.problems.length
            ? `; ${reading.problems.length} ${reading.problems.length === 1 ? 'line' : 'lines'} cannot be used`
            : ''
        }}.
      </p>
      <ul v-if="reading.problems.length">
        <li v-for="(p, i) in reading.problems.slice(0, 12)" :key="i" class="wrong">
          <span class="mono">line {{ p.line }}, column {{ p.column }}</span> {{ p.reason }}
        </li>
      </ul>
      <p v-if="reading.problems.length > 12" class="faint">
        and {{ reading.problems.length - 12 }} more
      </p>
      <ul v-if="reading.newcomers.length || reading.leftOut.length">
        <li v-for="(n, i) in reading.newcomers.slice(0, 12)" :key="`n${i}`" class="faint">
          <span class="mono">line {{ n.line }}</span> {{ n.reason }}
        </li>
        <li v-for="(l, i) in reading.leftOut.slice(0, 6)" :key="`l${i}`" class="faint">
          <span class="mono">line {{ l.line }}</span> left out: {{ l.reason }}
        </li>
      </ul>
      <v-checkbox
        v-if="newcomers.length"
        v-model="takeIn"
        :label="
          newcomers.length === 1
            ? 'Take it in as a host that stays'
            : `Take ${newcomers.length} of them in as hosts that stay`
        "
      />
      <div class="row">
        <v-btn color="primary" :disabled="edits.length === 0" @click="bringIn"
          >Bring {{ edits.length }} {{ edits.length === 1 ? 'change' : 'changes' }} in</v-btn
        ><v-btn variant="text" @click="picked = null">Leave it</v-btn>
      </div>
    </div>
    <Refusal :says="refused" />
  </section>
</template>

<style scoped>
.wrong {
  color: var(--blocker);
}
ul {
  padding-left: 18px;
  font-size: 13px;
}
</style>
