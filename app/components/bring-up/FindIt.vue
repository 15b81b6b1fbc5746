<script setup lang="ts">
/** Where the next device is: by the order of the leases, then by what a scan saw. */
import { findIt, gearOf } from '@mast/core/bringup'
import { readSightings } from '@mast/core/formats'

const site = useSite()
const asking = computed(() =>
  site.model
    ? gearOf(site.model).filter(
        (d) => d.addressing.mode !== 'fixed' && d.addressing.segmentId !== null,
      )
    : [],
)
const { file, refused, pick } = useTextFile()
const pasted = ref('')
/** What was read or pasted last. */
const text = ref('')
watch(file, (now) => {
  text.value = now?.text ?? ''
})
const read = computed(() => (text.value.trim() ? readSightings(text.value) : null))
const found = computed(() =>
  site.model ? findIt(site.model, asking.value, read.value?.sightings ?? []) : null,
)
const { shown, rest, more } = useShownRows(() => found.value?.devices ?? [])
</script>

<template>
  <details v-if="asking.length" class="find" aria-label="Addresses that they will get">
    <summary>Where each device will be found ({{ asking.length }})</summary>
    <div class="scroll-x">
      <table class="plain">
        <thead>
          <tr>
            <th>In this order</th>
            <th>Look at</th>
            <th>Because</th>
            <th>Seen at</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="d in shown" :key="d.deviceId">
            <td>{{ d.name }}</td>
            <td class="mono">{{ d.guess ?? 'none' }}</td>
            <td class="faint">{{ d.because }}</td>
            <td>
              <span class="mono">{{ d.seenAt ?? '' }}</span>
              <span v-if="d.says" class="mark cautions wrap"
                ><ShellStateShape kind="cautions" />{{ d.says }}</span
              >
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <RowsMore :rest="rest" what="devices" @more="more" />
    <p class="faint">
      A guess where nothing is reserved: some servers spread them. Where one is not there, read in
      what a scan saw; it is pointed out by its hardware address.
    </p>
    <form class="row no-print" @submit.prevent="text = pasted">
      <v-file-input
        label="Read a scan"
        density="compact"
        hide-details
        prepend-icon=""
        style="max-width: 200px"
        @update:model-value="pick"
      />
      <v-textarea
        v-model="pasted"
        label="or paste what ip neigh, a lease table or a port scan says"
        rows="1"
        auto-grow
        hide-details
        density="compact"
        class="mono"
        style="min-width: 220px"
      />
      <v-btn type="submit" size="small" :disabled="!pasted.trim()">Look for them</v-btn>
    </form>
    <Refusal :says="refused" />
    <template v-if="read">
      <p>
        <b>{{ read.kind }}</b>: {{ read.sightings.length }} seen.
      </p>
      <p v-for="(p, i) in read.problems.slice(0, 5)" :key="i" class="wrong">
        <span class="mono">line {{ p.line }}</span> {{ p.reason }}
      </p>
      <p v-for="d in found?.doubles.slice(0, 10)" :key="d.address" class="mark cautions wrap">
        <ShellStateShape kind="cautions" />{{ d.says }}
      </p>
      <ul v-if="found?.strangers.length">
        <li v-for="s in found.strangers.slice(0, 30)" :key="s.sighting.address">
          <span class="mono">{{ s.sighting.address }} {{ s.sighting.hardwareAddress }}</span>
          {{ s.sighting.name }}: {{ s.says }}
        </li>
      </ul>
    </template>
  </details>
</template>

<style scoped>
.find {
  margin: 14px 0;
}
</style>
