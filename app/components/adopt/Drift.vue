<script setup lang="ts">
/**
 * What a device runs against what was sent to it, line by line: which of it is to come into the
 * plan, and the rest loaded again as it was sent.
 */
import { readDifference, takeOver, type Reply, type RollDevice } from '@mast/api'
import type { EditCall } from '@mast/core/plan'

const props = defineProps<{ roll: RollDevice; name: string; firmwareWanted: string }>()
const site = useSite()
const field = useField()
const mayEdit = computed(() => site.role === 'owner' || site.role === 'engineer')
const difference = shallowRef<Reply<typeof readDifference> | null>(null)
const refused = ref<string | undefined>()
const said = ref('')
const busy = ref(false)
/** Lines whose present state is to come into the plan, by their path. */
const theirs = ref<readonly string[]>([])
const params = computed(() => ({ site: site.opened.id, device: props.roll.deviceId }))
type Line = Reply<typeof readDifference>['lines'][number]
const keyOf = (l: Pick<Line, 'path'>): string => JSON.stringify(l.path)

watchLatest(
  () =>
    [
      props.roll.runs,
      site.revision,
      // What it runs may still be on its way.
      difference.value?.says ? props.roll.lastHeardAt : null,
    ] as const,
  async (_, isLast) => {
    try {
      const read = await ask(readDifference, { params: params.value })
      if (!isLast()) return
      difference.value = read
      refused.value = undefined
      const there = new Set(read.lines.map(keyOf))
      theirs.value = theirs.value.filter((k) => there.has(k))
    } catch (error) {
      if (isLast()) refused.value = errorText(error)
    }
  },
)
const { shown, rest, more } = useShownRows(() => difference.value?.lines ?? [])
function choose(line: Line, isTheirs: boolean): void {
  theirs.value = isTheirs
    ? [...theirs.value, keyOf(line)]
    : theirs.value.filter((k) => k !== keyOf(line))
}
async function take(): Promise<void> {
  busy.value = true
  said.value = ''
  try {
    const chosen = difference.value!.lines.filter((l) => theirs.value.includes(keyOf(l)))
    const { edits, refused: left } = await ask(takeOver, {
      params: params.value,
      body: { paths: chosen.map((l) => l.path) },
    })
    refused.value =
      edits.length > 0
        ? site.mend(`Take over what ${props.name} runs`, edits as unknown as EditCall[])
        : undefined
    if (!refused.value) {
      const n = chosen.length - left.length
      said.value =
        `${n} ${n === 1 ? 'line is' : 'lines are'} in the plan now` +
        (left.length > 0 ? `, ${left.length} not: ${left[0]!.says}` : '') +
        '. Send the plan to the devices; everything else is loaded then as it was planned.'
      theirs.value = []
    }
  } catch (error) {
    refused.value = errorText(error)
  }
  busy.value = false
}
async function loadAgain(): Promise<void> {
  refused.value = await field.command(props.roll.deviceId, 'fetch')
  if (!refused.value) said.value = 'It loads what was sent when it calls next.'
}
</script>

<template>
  <section class="drift" :aria-label="`What ${name} runs instead`">
    <h3>What it runs instead</h3>
    <Refusal :says="refused" />
    <p v-if="roll.firmware && roll.firmware !== firmwareWanted" class="mark cautions wrap">
      <ShellStateShape kind="cautions" />Firmware {{ roll.firmware }} instead of
      {{ firmwareWanted }}.
    </p>
    <p v-if="!difference && !refused" class="faint">Comparing ...</p>
    <p v-else-if="difference?.says" class="faint">Cannot be compared yet: {{ difference.says }}.</p>
    <template v-else-if="difference">
      <ul class="plainlist lines">
        <li v-for="l in shown" :key="keyOf(l)" data-line>
          <span class="where">{{ l.where }}</span>
          <span class="values"
            ><span class="faint">sent</span> <span class="mono">{{ l.sent }}</span></span
          ><span class="values"
            ><span class="faint">runs</span> <b class="mono">{{ l.runs }}</b></span
          ><span class="choice no-print"
            ><v-checkbox
              v-if="!l.cannot && mayEdit"
              :model-value="theirs.includes(keyOf(l))"
              label="Into the plan"
              density="compact"
              hide-details
              @update:model-value="(on) => choose(l, Boolean(on))"
            /><span v-else-if="l.cannot" class="faint cannot">{{ l.cannot }}</span></span
          >
        </li>
      </ul>
      <RowsMore :rest="rest + difference.more" what="lines" @more="more" />
      <p v-if="difference.lines.length === 0" class="faint">
        Not a line differs from what was sent.
      </p>
    </template>
    <div class="row no-print">
      <v-btn
        v-if="mayEdit && difference?.lines.some((l) => !l.cannot)"
        color="primary"
        variant="flat"
        size="small"
        :disabled="theirs.length === 0 || busy"
        @click="take"
        >Take {{ theirs.length || '' }} into the plan</v-btn
      ><v-btn
        size="small"
        variant="outlined"
        :disabled="theirs.length > 0 || busy"
        @click="loadAgain"
        >Load what was sent again</v-btn
      >
    </div>
    <p v-if="said" role="status" class="mark clear wrap">
      <ShellStateShape kind="clear" />{{ said }}
    </p>
  </section>
</template>

<style scoped>
.drift {
  border-left: 3px solid var(--caution);
  padding: 2px 0 6px 12px;
  margin: 8px 0;
}
.lines {
  list-style: none;
  padding: 0;
  margin: 4px 0 8px;
}
.lines li {
  display: grid;
  grid-template-columns: minmax(150px, 1.3fr) minmax(110px, 1fr) minmax(110px, 1fr) minmax(
      150px,
      1.4fr
    );
  gap: 2px 12px;
  align-items: center;
  border-bottom: 1px solid var(--hair);
  padding: 3px 0;
  white-space: normal;
  overflow-wrap: anywhere;
}
.cannot {
  font-size: 12.5px;
}
@media (max-width: 700px) {
  .lines li {
    grid-template-columns: 1fr 1fr;
  }
  .where,
  .choice {
    grid-column: 1 / -1;
  }
}
</style>
