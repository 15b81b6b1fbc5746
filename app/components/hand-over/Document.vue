<script setup lang="ts">
/** What the client gets: the site as it was proven. */
import { readLog, type LogLine } from '@mast/api'
import { placeName, valueWords } from '@mast/core/plan'
import { gateFacts } from '@mast/core/survey'
import { cellWords, matrixOf } from '@mast/core/policy'
import { judgeDrill, linesInUse } from '@mast/core/uplinks'
import { stillOpen } from '@mast/core/sheets'
import { stopPath, useStanding } from '~/composables/stops'
import { answered } from '~/offline/browserStore'

const site = useSite()
const field = useField()
const log = ref<LogLine[]>([])
const lines = computed(() => linesInUse(site.opened.model))
const tried = computed(() =>
  field.evidence.flatMap((e) => (e.body.drill ? [{ ...e, drill: e.body.drill }] : [])),
)
const backups = computed(() => field.evidence.filter((e) => e.kind === 'backup'))
watchLatest(
  () => [site.id, site.revision, field.proof?.id],
  async (_, isLast) => {
    if (!site.id) return
    const what = { params: { site: site.id } }
    const { entries } = await answered(readLog, what, () => ask(readLog, what)).catch(() => ({
      entries: [],
    }))
    if (isLast()) log.value = entries
  },
)
const plan = computed(() => site.opened.plan)
const matrix = computed(() => matrixOf(plan.value))
const open = computed(() => site.analysis?.findings ?? [])
const time = (at: string): string =>
  new Date(at).toLocaleString('en-GB', { timeZone: plan.value.site.timeZone })
const pairWords = (from: string, to: string): string => {
  const c = matrix.value.cell(from, to)
  return !c || c.verdict === 'none' ? '' : cellWords(plan.value, c)
}
const factText = (v: unknown): string =>
  v === null ? 'not known' : valueWords(site.opened.plan, v)
const placeLabel = (p: string): string => (p === 'internet' ? 'internet' : placeName(plan.value, p))
const devices = useShownRows(() => site.opened.model.devices)
const links = useShownRows(() => Object.values(plan.value.links))
const pairs = useShownRows(
  () => matrix.value.sources,
  () => Math.max(2, Math.floor(160 / Math.max(1, matrix.value.places.length))),
)
const results = useShownRows(() => field.proof?.body.results ?? [])
const remarks = useShownRows(() => open.value)
const standing = computed(() =>
  field.releases?.releases.find((r) => r.number === field.releases?.standing),
)
const standingNow = useStanding()
const kept = computed(() => stillOpen(standingNow()))
const ready = computed(() => site.analysis !== null && field.loaded && kept.value.length === 0)
</script>

<template>
  <article data-drawing class="document" aria-label="Hand-over document">
    <p class="mark big" :class="ready ? 'proven' : 'cautions'">
      <ShellStateShape :kind="ready ? 'proven' : 'cautions'" />{{
        ready
          ? 'Ready to hand over: proven, nothing left to mend'
          : 'Not ready: see what is open below'
      }}
    </p>
    <InTurns>
      <section>
        <h2>1 The site</h2>
        <p>
          {{ plan.site.name }}, country {{ plan.site.country }}, time zone {{ plan.site.timeZone }}.
          Plan revision {{ site.revision }}.
          <template v-if="standing"
            >The devices have release {{ standing.number }} of revision {{ standing.revision }},
            sent {{ time(standing.at) }}{{ standing.who ? ` by ${standing.who}` : ''
            }}{{
              field.unsent
                ? `; the plan has changes for ${field.unsent} of them that were not sent`
                : ''
            }}. </template
          >Address space <span class="mono">{{ plan.site.addressSpace.join(', ') }}</span>.
        </p>
      </section>
      <section>
        <h2>2 What is open</h2>
        <p v-if="open.length + kept.length === 0">
          Nothing: no rule has a remark on this plan, and all of it is proven.
        </p>
        <ul v-if="kept.length" aria-label="Before it is handed over">
          <li v-for="k in kept" :key="k.text">
            <NuxtLink v-if="k.sheet" :to="stopPath(site.opened.id, k.sheet)">{{
              k.text
            }}</NuxtLink><template v-else>{{ k.text }}</template>
          </li>
        </ul>
        <ul v-if="open.length">
          <li v-for="f in remarks.shown.value" :key="f.id">
            <b>{{ f.severity }}</b>: {{ f.text }}
          </li>
        </ul>
        <RowsMore :rest="remarks.rest.value" what="remarks" @more="remarks.more" />
      </section>
      <section>
        <h2>3 The provider's line</h2>
        <table v-for="u in plan.uplinks" :key="u.id" class="plain">
          <tbody>
            <tr>
              <td>Line</td>
              <td>
                {{ u.name }}{{ u.portId ? `, in ${site.opened.model.portName(u.portId)}` : '' }}
              </td>
            </tr>
            <tr v-for="f in gateFacts(u)" :key="f.key">
              <td>{{ f.label }}</td>
              <td class="mono">{{ factText(u.handOff[f.key]) }}</td>
            </tr>
          </tbody>
        </table>
      </section>
      <section>
        <h2>4 Addresses</h2>
        <AddressesRuler />
        <table class="plain">
          <thead>
            <tr>
              <th>VLAN</th>
              <th>Segment</th>
              <th>Subnet</th>
              <th>Gateway</th>
              <th>Fixed block</th>
              <th>Pool</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="s in site.opened.model.segments" :key="s.id">
              <td class="mono">{{ s.vlanId }}</td>
              <td>{{ s.name }}</td>
              <td class="mono">{{ s.subnet }}</td>
              <td class="mono">{{ s.gateway }}</td>
              <td class="mono">
                {{ s.fixedBlock ? `${s.fixedBlock.first}-${s.fixedBlock.last}` : '' }}
              </td>
              <td class="mono">{{ s.pools.map((p) => `${p.first}-${p.last}`).join(', ') }}</td>
            </tr>
          </tbody>
        </table>
      </section>
      <section>
        <h2>5 Equipment</h2>
        <div class="scroll-x">
          <table class="plain">
            <thead>
              <tr>
                <th>Device</th>
                <th>Profile</th>
                <th>Serial</th>
                <th>Hardware address</th>
                <th>Firmware</th>
                <th>Address</th>
                <th>Backed up</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="d in devices.shown.value" :key="d.id">
                <td>{{ d.name }}</td>
                <td>{{ site.opened.model.profileOf(d.id).name }}</td>
                <td class="mono">{{ d.serial }}</td>
                <td class="mono">{{ d.hardwareAddress }}</td>
                <td class="mono">{{ field.devices.find((x) => x.deviceId === d.id)?.firmware }}</td>
                <td class="mono">
                  {{
                    field.devices.find((x) => x.deviceId === d.id)?.address ?? d.addressing.address
                  }}
                </td>
                <td>
                  {{
                    backups.find((b) => b.body.deviceId === d.id)
                      ? time(backups.find((b) => b.body.deviceId === d.id)!.at)
                      : ''
                  }}
                </td>
              </tr>
            </tbody>
          </table>
        </div>
        <RowsMore :rest="devices.rest.value" what="devices" @more="devices.more" />
      </section>
      <section>
        <h2>6 Wiring</h2>
        <WiringLoom />
        <table class="plain">
          <thead>
            <tr>
              <th>From</th>
              <th>To</th>
              <th>Medium</th>
              <th>Length</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="l in links.shown.value" :key="l.id">
              <td>{{ site.opened.model.portName(l.a) }}</td>
              <td>{{ site.opened.model.portName(l.b) }}</td>
              <td>{{ l.medium }}</td>
              <td class="mono">{{ l.lengthM }} m</td>
            </tr>
          </tbody>
        </table>
        <RowsMore :rest="links.rest.value" what="cables" @more="links.more" />
      </section>
      <section>
        <h2>7 Wireless networks</h2>
        <p v-if="Object.keys(plan.wirelessNetworks).length === 0">None.</p>
        <ul v-else>
          <li v-for="w in plan.wirelessNetworks" :key="w.id">
            <b>{{ w.name }}</b>: {{ w.security }}, lands in
            {{ site.opened.model.vlanName(w.segmentId) }}, sent by
            {{ w.accessPointIds.map((a) => plan.devices[a]?.name).join(', ') }}; clients
            {{ w.clientIsolation ? 'kept apart' : 'not kept apart' }}. Its key is in the vault.
          </li>
        </ul>
      </section>
      <section>
        <h2>8 Who reaches whom</h2>
        <div class="scroll-x">
          <table class="plain">
            <thead>
              <tr>
                <th>From</th>
                <th v-for="p in matrix.places" :key="p">{{ placeLabel(p) }}</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="from in pairs.shown.value" :key="from">
                <td>
                  <b>{{ placeLabel(from) }}</b>
                </td>
                <td v-for="to in matrix.places" :key="to">
                  {{ matrix.cell(from, to) ? pairWords(from, to) || 'nothing' : '' }}
                </td>
              </tr>
            </tbody>
          </table>
        </div>
        <RowsMore :rest="pairs.rest.value" what="rows" @more="pairs.more" />
        <ul v-if="Object.keys(plan.groups).length">
          <li v-for="g in plan.groups" :key="g.id">
            <b>{{ g.name }}</b>: {{ g.memberIds.map((m) => placeName(plan, m)).join(', ') }}
          </li>
        </ul>
        <p v-for="f in plan.forwards" :key="f.id">
          <b>{{ f.name }}</b>: {{ f.protocol }} {{ f.outside.first
          }}<template v-if="f.outside.last > f.outside.first">-{{ f.outside.last }}</template> of
          the line leads to {{ plan.devices[f.deviceId]?.name }}, port {{ f.inside }}.
          {{ f.reason }}
        </p>
      </section>
      <section>
        <h2>9 Proof</h2>
        <template v-if="field.proof">
          <p>
            Run {{ time(field.proof.at) }} on the stand-ins, of
            {{ field.proof.release ? `release ${field.proof.release}, ` : '' }}revision
            {{ field.proof.revision }}: {{ field.proof.body.count.asPlanned }} as planned,
            {{ field.proof.body.count.contradicts }} contradict,
            {{ field.proof.body.count.untested }} untested.
          </p>
          <table class="plain small">
            <tbody>
              <tr v-for="r in results.shown.value" :key="r.test.id">
                <td>{{ r.test.title }}</td>
                <td>{{ r.test.expected }}</td>
                <td class="mono">{{ r.observed }}</td>
                <td>{{ r.verdict.replace('-', ' ') }}</td>
              </tr>
            </tbody>
          </table>
          <RowsMore :rest="results.rest.value" what="results" @more="results.more" />
        </template>
        <p v-else>Not run yet.</p>
      </section>
      <section v-if="lines.length > 1">
        <h2>10 Failover</h2>
        <p v-if="tried.length === 0">
          Never tried: whether the site goes over from {{ lines[0]!.name }} to
          {{ lines[1]!.name }} is not known.
        </p>
        <table v-else class="plain small">
          <tbody>
            <tr v-for="t in tried" :key="t.id">
              <td class="mono">{{ time(t.at) }}</td>
              <td>{{ t.who }}</td>
              <td>
                {{ t.drill.measuredBy === 'stand-ins' ? 'on the stand-ins' : 'on site'
                }}{{ t.drill.isAfterRestart ? ', after a restart' : '' }}
              </td>
              <td>{{ judgeDrill(site.opened.model, t.drill).text }}</td>
            </tr>
          </tbody>
        </table>
      </section>
      <section>
        <h2>{{ lines.length > 1 ? 11 : 10 }} Logbook</h2>
        <table class="plain small">
          <tbody>
            <tr v-for="l in log.slice(0, 60)" :key="l.id">
              <td class="mono">{{ time(l.at) }}</td>
              <td>{{ l.who }}</td>
              <td>{{ l.what }}</td>
            </tr>
          </tbody>
        </table>
      </section>
      <section>
        <h2>{{ lines.length > 1 ? 12 : 11 }} Signatures</h2>
        <div class="signatures keep">
          <div v-for="who in ['Handed over by', 'Taken over by']" :key="who">
            <span>{{ who }}</span><span class="faint">name, date</span>
          </div>
        </div>
      </section>
    </InTurns>
    <p class="faint">
      Keys and passwords are not in this document; they stay sealed in the vault and are handed over
      apart.
    </p>
  </article>
</template>

<style scoped>
.document {
  max-width: 1000px;
}
h2 {
  margin: 10px 0 6px;
}
p {
  margin: 4px 0 8px;
}
.big {
  font-size: 17px;
  font-weight: 600;
}
.small {
  font-size: 12.5px;
}
.small td {
  height: 24px;
}
.signatures {
  display: flex;
  gap: 40px;
  margin: 40px 0 10px;
}
.signatures div {
  flex: 1;
  border-top: 1px solid var(--ink);
  padding-top: 4px;
  display: flex;
  justify-content: space-between;
}
</style>
