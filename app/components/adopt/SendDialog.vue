<script setup lang="ts">
import { roughDuration } from '@mast/core/words'
import type { ReleasePreview } from '@mast/core/release'

const open = defineModel<boolean>({ required: true })
const site = useSite()
const field = useField()
const preview = shallowRef<ReleasePreview | null>(null)
const refused = ref<string | undefined>()
const note = ref('')
const goesOver = ref(false)
const busy = ref(false)
/** The revision that is looked at; what is sent is that and nothing newer. */
const revision = ref(0)
async function look(): Promise<void> {
  preview.value = null
  refused.value = undefined
  revision.value = site.revision
  const reply = await field.previewRelease(revision.value)
  if (typeof reply === 'string') refused.value = reply
  else preview.value = reply
}
watch(open, (is) => {
  if (is) void look()
})
/** Changes that nobody has saved yet would be missing from what is sent. */
const waiting = computed(() =>
  site.held.length > 0
    ? 'Two people changed the same; decide which holds before anything is sent.'
    : site.unsaved > 0
      ? 'Changes of yours are not saved yet; wait until they are.'
      : site.revision !== revision.value
        ? 'The plan changed while you looked.'
        : '',
)
const held = computed(() => preview.value?.heldBack ?? [])
async function send(): Promise<void> {
  busy.value = true
  refused.value = await field.sendRelease(
    revision.value,
    note.value,
    goesOver.value && preview.value?.controllers != null,
  )
  busy.value = false
  if (!refused.value) {
    open.value = false
    note.value = ''
    goesOver.value = false
  }
}
const name = (id: string): string => site.plan?.devices[id]?.name ?? id
const changes = useShownRows(
  () => preview.value?.changes ?? [],
  () => 30,
)
</script>

<template>
  <v-dialog v-model="open" max-width="820" scrollable aria-label="Send to devices">
    <v-card class="pa-5">
      <h2>Send revision {{ revision }} to the devices</h2>
      <Refusal :says="refused" />
      <p v-if="!preview && !refused" class="faint">Working out what that does ...</p>
      <div v-if="preview" class="body">
        <div v-if="held.length" role="alert">
          <h3>What keeps it back</h3>
          <ul class="plainlist">
            <li v-for="h in held" :key="h" class="mark blockers wrap">
              <ShellStateShape kind="blockers" />{{ h }}
            </li>
          </ul>
        </div>
        <p v-if="preview.changes.length === 0">
          Nothing changes on any device; {{ preview.same }} keep what they have.
        </p>
        <template v-else>
          <h3>
            What changes on {{ preview.changes.length }}
            {{ preview.changes.length === 1 ? 'device' : 'devices' }}
          </h3>
          <details v-for="c in changes.shown.value" :key="c.deviceId" :data-change="c.deviceId">
            <summary>
              <b>{{ c.name }}</b>{{ ' ' }}
              <span class="faint"
                >{{
                  c.differences.length
                    ? `${c.differences.length} ${c.differences.length === 1 ? 'difference' : 'differences'}`
                    : ''
                }}<template v-if="c.firmware">
                  firmware {{ c.firmware.from }} to {{ c.firmware.to }}</template
                >.
                {{
                  c.isLive
                    ? `Away for ${roughDuration(c.awaySeconds)}` +
                      (c.hostsCut
                        ? `, ${c.hostsCut} ${c.hostsCut === 1 ? 'host' : 'hosts'} with it`
                        : '')
                    : 'Not heard now: it loads when it is'
                }}</span
              >
            </summary>
            <table class="plain">
              <tbody>
                <tr v-for="(d, i) in c.differences" :key="i">
                  <td>{{ d.where }}</td>
                  <td class="mono was">{{ d.before }}</td>
                  <td class="mono">{{ d.after }}</td>
                </tr>
              </tbody>
            </table>
          </details>
          <RowsMore :rest="changes.rest.value" what="devices" @more="changes.more" />
        </template>
        <template v-if="preview.pairs.length"
          ><h3>Who reaches whom</h3>
          <ul class="plainlist">
            <li v-for="p in preview.pairs" :key="`${p.from} ${p.to}`">
              <b>{{ p.from }}</b> to <b>{{ p.to }}</b><template v-if="p.gained.length">
                gains {{ p.gained.join(', ') }}</template
              ><template v-if="p.lost.length"
                >{{ p.gained.length ? ';' : '' }} loses {{ p.lost.join(', ') }}</template
              >
            </li>
          </ul></template
        >
        <template v-if="preview.leases.length"
          ><h3>Clients that need another lease</h3>
          <ul class="plainlist">
            <li v-for="l in preview.leases" :key="l.segment">
              <b>{{ l.segment }}</b>: {{ l.why }}. By themselves within
              {{ roughDuration(l.withinSeconds) }}; at once when they are taken off and put on
              again.
            </li>
          </ul></template
        >
        <template v-if="preview.weakKeys.length"
          ><h3>Keys that are soon guessed</h3>
          <ul class="plainlist">
            <li v-for="k in preview.weakKeys" :key="k">{{ k }}</li>
          </ul></template
        >
        <template v-if="preview.byHand.length"
          ><h3>By hand</h3>
          <ul class="plainlist">
            <li v-for="b in preview.byHand" :key="b">{{ b }}</li>
          </ul></template
        >
        <template v-if="preview.controllers">
          <h3>Another address of the controller</h3>
          <p>
            Devices call <span class="mono">{{ preview.controllers.to }}</span> in place of
            <span class="mono">{{ preview.controllers.from }}</span>.
          </p>
          <v-checkbox
            v-model="goesOver"
            label="Another controller answers there: they go over to it"
            density="compact"
            hide-details
          />
          <ol v-if="goesOver">
            <li>
              Take the site out as a file with its secrets, and bring it in at the other controller:
              by that it knows the plan and each device.
            </li>
            <li>Send from here. Who is taken there is not heard here any more.</li>
            <li>Who is not goes back by itself, and the rest is not sent.</li>
            <li>Send the plan from there, run the proof, and only then remove the site here.</li>
          </ol>
        </template>
        <template v-if="preview.waves.length">
          <h3>In which order</h3>
          <ol>
            <li v-for="(w, i) in preview.waves" :key="i">
              {{ w.map(name).slice(0, 12).join(', ')
              }}{{ w.length > 12 ? ` and ${w.length - 12} more` : ''
              }}<span class="faint">{{ w.length > 1 ? ', at one moment' : '' }}</span>
            </li>
          </ol>
          <p class="faint">
            Each device keeps what it has until all of its wave hold the new, tries it, and goes
            back by itself unless everybody is heard again. The first failure stops the rest.
          </p>
        </template>
        <p v-if="preview.moved.length" class="faint">
          Off while their cables are moved: {{ preview.moved.map(name).join(', ') }}. Nobody waits
          for them.
        </p>
      </div>
      <div class="foot">
        <p v-if="waiting && preview" class="mark cautions wrap">
          <ShellStateShape kind="cautions" />{{ waiting }}
          <v-btn v-if="site.revision !== revision" size="small" variant="text" @click="look"
            >Look again</v-btn
          >
        </p>
        <v-text-field
          v-model="note"
          label="What it is for, for the trail (optional)"
          maxlength="200"
        />
        <div class="row">
          <v-btn
            color="primary"
            variant="flat"
            :loading="busy"
            :disabled="!preview || held.length > 0 || waiting !== ''"
            @click="send"
            >Send</v-btn
          ><v-btn variant="text" @click="open = false">Not now</v-btn>
        </div>
      </div>
    </v-card>
  </v-dialog>
</template>

<style scoped>
h2 {
  margin: 0 0 8px;
}
h3 {
  margin: 14px 0 4px;
  font-size: 15px;
}
.body {
  overflow: auto;
  min-height: 0;
}
.plainlist {
  list-style: none;
  padding: 0;
  margin: 0;
}
.plainlist li {
  padding: 2px 0;
  border-bottom: 1px solid var(--hair);
}
summary {
  cursor: pointer;
  padding: 3px 0;
}
.was {
  color: var(--faint);
  text-decoration: line-through;
}
td {
  overflow-wrap: anywhere;
  font-size: 13px;
}
.foot {
  padding-top: 12px;
}
ol {
  margin: 0;
  padding-left: 22px;
}
.row {
  margin-top: 10px;
}
</style>
