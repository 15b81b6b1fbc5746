<script setup lang="ts">
/** How a network is sent, who is let in, and the page that guests see first. */
import type { Portal, WirelessNetwork } from '@mast/core/plan'
import { bands } from '@mast/core/radio'

/** What hiding a name is worth. */
const HIDDEN =
  'Protects nothing: whoever joins says the name aloud, and so does every device that looks for ' +
  'it, everywhere.'

const { network } = defineProps<{ network: WirelessNetwork }>()
const site = useSite()
const refused = ref<string | undefined>()
/** Said beside the field that was typed into. */
const tell = (changes: Partial<WirelessNetwork>): string | undefined =>
  site.edit('changeWirelessNetwork', { id: network.id, changes })
/** Said beneath, where something was chosen. */
const change = (changes: Partial<WirelessNetwork>): void => {
  refused.value = tell(changes)
}
const bandItems = bands.map((value) => ({ title: `${value} GHz`, value }))
const blank: Portal = {
  ...{ entry: 'terms', passwordRef: null, sessionMinutes: 720, before: [] },
  ...{ title: 'Welcome', text: 'Please be considerate of others.', colour: '#1d4e5f' },
}
const tellPage = (changes: Partial<Portal>): string | undefined =>
  tell({ portal: { ...(network.portal ?? blank), ...changes } })
const page = (changes: Partial<Portal>): void => {
  refused.value = tellPage(changes)
}
const listOf = (text: string): string[] =>
  text
    .split(/[\s,;]+/)
    .map((t) => t.trim().toLowerCase())
    .filter((t) => t !== '')
function least(text: string): string | undefined {
  if (text.trim() === '') return tell({ leastDbm: null })
  return Number.isFinite(Number(text))
    ? tell({ leastDbm: Number(text) })
    : 'a number of dBm is needed, or nothing to let everybody in'
}
const lease = computed(() => (site.opened.plan.segments[network.segmentId]?.leaseSeconds ?? 0) / 60)
</script>

<template>
  <details>
    <summary>How '{{ network.name }}' is sent, and who is let in</summary>
    <div class="fields">
      <v-select
        label="Sent in"
        multiple
        :model-value="network.bands"
        :items="bandItems"
        @update:model-value="(b) => b.length && change({ bands: b })"
      />
      <FieldsEditField
        label="Weaker is not let in, dBm (empty: everybody)"
        :value="network.leastDbm"
        :save="least"
        mono
      />
      <v-checkbox
        label="Lead to 5 and 6 GHz who knows them"
        :model-value="network.leadsUp"
        @update:model-value="(v) => change({ leadsUp: v === true })"
      />
      <FieldsEditField
        v-if="network.leadsUp"
        label="Who is heard there with, dBm"
        type="number"
        :value="network.leadsUpDbm"
        :save="(t) => tell({ leadsUpDbm: Number(t) })"
        mono
      />
      <v-checkbox
        label="Hide its name"
        :model-value="network.isHidden"
        :hint="HIDDEN"
        persistent-hint
        @update:model-value="(v) => change({ isHidden: v === true })"
      />
      <v-checkbox
        label="Join by button"
        :model-value="network.joinsByButton"
        hint="For the minutes in which something without a keyboard joins; left on, it is a door."
        persistent-hint
        @update:model-value="(v) => change({ joinsByButton: v === true })"
      />
      <FieldsEditField
        label="Only these hardware addresses"
        :value="network.allowed.join(' ')"
        :save="(t) => tell({ allowed: listOf(t) })"
        mono
      />
    </div>
    <p v-if="network.allowed.length" class="faint">
      For small sets that never change. An address is read off the air and copied in a minute, and
      phones make up a new one for each network.
    </p>
    <div class="row">
      <v-checkbox
        label="Guests see a page first"
        :model-value="network.portal !== null"
        @update:model-value="(v) => change({ portal: v ? blank : null })"
      />
    </div>
    <div v-if="network.portal" class="row top">
      <div class="fields grow">
        <v-select
          label="They come in by"
          :model-value="network.portal.entry"
          :items="[
            { title: 'agreeing to the terms', value: 'terms' },
            { title: 'a password', value: 'password' },
          ]"
          @update:model-value="
            (entry) =>
              page({
                entry,
                passwordRef: entry === 'password' ? `page-${network.id}`.slice(0, 64) : null,
              })
          "
        />
        <FieldsEditField
          label="Asked again after, minutes"
          :value="network.portal.sessionMinutes"
          type="number"
          :save="(t) => tellPage({ sessionMinutes: Number(t) })"
          mono
        />
        <FieldsEditField
          label="Reached before that (subnets)"
          :value="network.portal.before.join(' ')"
          :save="(t) => tellPage({ before: listOf(t) })"
          mono
        />
        <FieldsEditField
          label="Heading"
          :value="network.portal.title"
          :save="(t) => tellPage({ title: t })"
        />
        <FieldsEditField
          label="Text"
          :value="network.portal.text"
          :save="(t) => tellPage({ text: t })"
        />
        <FieldsEditField
          label="Colour"
          :value="network.portal.colour"
          :save="(t) => tellPage({ colour: t.toLowerCase() })"
          mono
        />
        <p class="faint">
          Leases last {{ Math.round(lease) }} minutes,
          {{
            lease > network.portal.sessionMinutes
              ? 'longer than a session: addresses are held by those who have left.'
              : 'no longer than a session: who stays is not asked twice.'
          }}
        </p>
      </div>
      <figure class="page" :style="{ borderTopColor: network.portal.colour }">
        <figcaption class="faint">What guests see</figcaption>
        <h3>{{ network.portal.title }}</h3>
        <p>{{ network.portal.text }}</p>
        <p class="go" :style="{ background: network.portal.colour }">
          {{ network.portal.entry === 'terms' ? 'I agree' : 'Password, and in' }}
        </p>
      </figure>
    </div>
    <Refusal :says="refused" />
  </details>
</template>

<style scoped>
.top {
  align-items: flex-start;
}
.grow {
  flex: 1 1 320px;
}
.page {
  width: 260px;
  border: 1px solid var(--hair);
  border-top: 8px solid;
  padding: 12px 16px;
  margin: 0;
  overflow-wrap: anywhere;
}
.go {
  color: #fff;
  text-align: center;
  padding: 8px;
  margin-top: 12px;
}
</style>
