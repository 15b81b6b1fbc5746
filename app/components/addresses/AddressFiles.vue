<script setup lang="ts">
/**
 * The address plan out to and in from the files of other programs. Reading shows first what it
 * would do.
 */
import {
  addressFormatOf,
  decodeText,
  importOf,
  MAX_CSV_OCTETS,
  readAddressFile,
  writeAddressCsv,
  writeDnsmasqFiles,
  writeKeaFiles,
  writeNetplan,
  writeZones,
  type AddressFile,
  type AddressFormat,
} from '@mast/core/formats'
import { zipSync, strToU8 } from 'fflate'

const site = useSite()
const read = ref<{ name: string; file: AddressFile } | null>(null)
const plan = computed(() => (read.value ? importOf(site.plan!, read.value.file) : null))
const refused = ref<string | undefined>()
const formats = [
  { title: 'CSV', value: 'address-csv' },
  { title: 'Kea (DHCP), JSON', value: 'kea' },
  { title: 'dnsmasq (DHCP and names)', value: 'dnsmasq' },
  { title: 'zone files (names)', value: 'zone' },
  { title: 'netplan (hosts)', value: 'netplan' },
]
const format = ref<AddressFormat>('address-csv')

function save(): void {
  const model = site.model!
  if (format.value === 'address-csv')
    saveAs('addresses.csv', 'text/csv', writeAddressCsv(site.plan!))
  else {
    const files =
      format.value === 'kea'
        ? writeKeaFiles(model)
        : format.value === 'dnsmasq'
          ? writeDnsmasqFiles(model)
          : format.value === 'zone'
            ? Object.fromEntries(
                Object.entries(writeZones(model, site.revision)).map(([z, t]) => [`${z}.zone`, t]),
              )
            : writeNetplan(model)
    const [only, ...others] = Object.entries(files)
    if (only && others.length === 0 && (format.value === 'kea' || format.value === 'dnsmasq')) {
      saveAs(only[0], format.value === 'kea' ? 'application/json' : 'text/plain', only[1])
      refused.value = undefined
      return
    }
    if (Object.keys(files).length === 0) {
      refused.value =
        format.value === 'zone'
          ? 'the site has no domain inside; set one above'
          : 'no host of the plan has a cable and a segment'
      return
    }
    saveOctetsAs(
      `${format.value}.zip`,
      'application/zip',
      zipSync(Object.fromEntries(Object.entries(files).map(([n, t]) => [n, strToU8(t)]))),
    )
  }
  refused.value = undefined
}
async function pick(chosen: File | File[] | null): Promise<void> {
  const file = Array.isArray(chosen) ? chosen[0] : chosen
  refused.value = undefined
  if (!file) {
    read.value = null
    return
  }
  if (file.size > MAX_CSV_OCTETS) {
    refused.value = `${file.name} is larger than ${MAX_CSV_OCTETS / 1e6} MB; split it`
    return
  }
  const decoded = decodeText(new Uint8Array(await file.arrayBuffer()))
  if ('problem' in decoded) {
    refused.value = `${file.name}, line ${decoded.problem.line}: ${decoded.problem.reason}`
    return
  }
  read.value = {
    name: file.name,
    file: readAddressFile(addressFormatOf(file.name, decoded.text), file.name, decoded.text),
  }
  takeIn.value = false
}
/** Hosts of the file that the plan does not know, where there is a segment for them. */
const newcomers = computed(
  () => plan.value?.strangers.flatMap((s) => (s.takeIn ? [s.takeIn] : [])) ?? [],
)
const takeIn = ref(false)
const edits = computed(() => [
  ...(plan.value?.edits ?? []),
  ...(takeIn.value ? newcomers.value : []),
])
function bringIn(): void {
  refused.value = site.mend(edits.value)
  if (!refused.value) read.value = null
}
const words = computed(() => {
  const p = plan.value!
  return (
    [
      p.adds ? `${p.adds} new ${p.adds === 1 ? 'segment' : 'segments'}` : '',
      p.changes ? `${p.changes} changed` : '',
      p.same ? `${p.same} the same` : '',
      p.hosts
        ? `${p.hosts} ${p.hosts === 1 ? 'device gets another address' : 'devices get other addresses'}`
        : '',
    ]
      .filter(Boolean)
      .join(', ') || 'nothing'
  )
})
</script>

<template>
  <section class="no-print" aria-label="Address files">
    <h2>Out and in</h2>
    <div class="row">
      <v-select v-model="format" label="Format" :items="formats" style="max-width: 240px" /><v-btn
        @click="save"
        >Save the file</v-btn
      >
      <v-file-input
        label="Read an address plan"
        density="compact"
        hide-details
        prepend-icon=""
        style="max-width: 230px"
        accept=".csv,.json,.conf,.zone,.yaml,.yml,.txt,text/plain,text/csv,application/json"
        @update:model-value="pick"
      />
    </div>
    <div v-if="read && plan" class="in-place" aria-label="What the address file says">
      <p>
        <b>{{ read.name }}</b>: {{ words
        }}{{
          read.file.problems.length
            ? `; ${read.file.problems.length} ${read.file.problems.length === 1 ? 'line' : 'lines'} cannot be used`
            : ''
        }}.
      </p>
      <ul v-if="read.file.problems.length">
        <li v-for="(p, i) in read.file.problems.slice(0, 12)" :key="i" class="wrong">
          <span class="mono">line {{ p.line }}, column {{ p.column }}</span> {{ p.reason }}
        </li>
      </ul>
      <p v-if="read.file.problems.length > 12" class="faint">
        and {{ read.file.problems.length - 12 }} more
      </p>
      <ul v-if="plan.strangers.length || plan.contradictions.length || read.file.leftOut.length">
        <li
          v-for="{ fact, takeIn: edit } in plan.strangers.slice(0, 12)"
          :key="`s${fact.line}`"
          class="faint"
        >
          <span class="mono">line {{ fact.line }}</span>
          {{ [fact.name, fact.hardwareAddress].filter(Boolean).join(', ') }}
          {{ fact.address ?? '' }} is no device of the plan{{
            edit ? '' : ', and its address lies in no segment'
          }}
        </li>
        <li v-for="c in plan.contradictions.slice(0, 6)" :key="`c${c.line}`" class="wrong">
          <span class="mono">line {{ c.line }}</span> {{ c.reason }}
        </li>
        <li v-for="(l, i) in read.file.leftOut.slice(0, 6)" :key="`l${i}`" class="faint">
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
        ><v-btn variant="text" @click="read = null">Leave it</v-btn>
      </div>
    </div>
    <p v-if="refused" class="mark blockers" role="alert" style="white-space: normal">
      {{ refused }}
    </p>
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
