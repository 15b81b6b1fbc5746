<script setup lang="ts">
/**
 * What is on the wire already, read from a lease file, the neighbours of a machine, or a table, and
 * matched to the inventory.
 */
import { newId } from '@mast/core/plan'
import { readSightings } from '@mast/core/formats'
import { isMadeUp, matchSightings, type Match } from '@mast/core/survey'

const site = useSite()
const { file, refused, pick } = useTextFile()
const read = computed(
  () => file.value && { name: file.value.name, file: readSightings(file.value.text) },
)
const matching = computed(() =>
  read.value ? matchSightings(site.opened.plan, read.value.file.sightings) : null,
)
/** A stranger that stays becomes a device of the plan; what it is can be said afterwards. */
function keep(m: Match): void {
  const name = m.sighting.name ?? `Host ${m.sighting.address}`
  refused.value = site.edit('addDevice', {
    id: newId(site.opened.plan, name),
    name,
    profileId: 'wired-host',
    hardwareAddress: m.sighting.hardwareAddress,
    stays: true,
  })
}
const { shown, rest, more } = useShownRows(() => matching.value?.strangers ?? [])
</script>

<template>
  <section aria-label="On the wire already" class="no-print">
    <h2>On the wire already</h2>
    <div class="row">
      <v-file-input
        label="Read leases or neighbours"
        density="compact"
        hide-details
        prepend-icon=""
        style="max-width: 250px"
        @update:model-value="pick"
      />
      <span class="faint"
        >a lease file (dnsmasq, dhcpd, Kea), what <span class="mono">ip neigh</span> prints, a port
        scan as XML, or a table with address and mac</span
      >
    </div>
    <Refusal :says="refused" />
    <div v-if="read && matching" class="in-place" aria-label="What was seen">
      <p>
        <b>{{ read.name }}</b>, {{ read.file.kind }}: {{ read.file.sightings.length }} seen,
        {{ matching.known.length }} of them known, {{ matching.strangers.length }} strangers;
        {{ matching.unseen.length }} devices of the plan not seen.
      </p>
      <ul v-if="read.file.problems.length">
        <li v-for="(p, i) in read.file.problems.slice(0, 10)" :key="i" class="wrong">
          <span class="mono">line {{ p.line }}</span> {{ p.reason }}
        </li>
      </ul>
      <table v-if="matching.known.length" class="plain">
        <thead>
          <tr>
            <th>Device</th>
            <th>Seen at</th>
            <th />
          </tr>
        </thead>
        <tbody>
          <tr v-for="m in matching.known.slice(0, 60)" :key="m.sighting.address">
            <td>{{ m.device!.name }}</td>
            <td class="mono">{{ m.sighting.address }}</td>
            <td :class="{ wrong: m.differs }">{{ m.differs ?? '' }}</td>
          </tr>
        </tbody>
      </table>
      <table v-if="matching.strangers.length" class="plain">
        <thead>
          <tr>
            <th>Stranger</th>
            <th>Address</th>
            <th>Hardware address</th>
            <th />
          </tr>
        </thead>
        <tbody>
          <tr v-for="m in shown" :key="m.sighting.address">
            <td>{{ m.sighting.name ?? '' }}</td>
            <td class="mono">{{ m.sighting.address }}</td>
            <td class="mono">
              {{ m.sighting.hardwareAddress ?? '' }}
              <span
                v-if="m.sighting.hardwareAddress && isMadeUp(m.sighting.hardwareAddress)"
                class="faint"
                title="The second lowest bit of the first octet is set (IEEE 802)"
                >made up by the device</span
              >
            </td>
            <td><v-btn size="small" variant="text" @click="keep(m)">It stays</v-btn></td>
          </tr>
        </tbody>
      </table>
      <RowsMore :rest="rest" what="strangers" @more="more" />
      <v-btn variant="text" size="small" @click="file = null">Put it away</v-btn>
    </div>
  </section>
</template>

<style scoped>
.wrong {
  color: var(--blocker);
}
table {
  margin-bottom: 8px;
}
</style>
