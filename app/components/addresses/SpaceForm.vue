<script setup lang="ts">
/** The space that segments come from, and the site's habits of numbering. */
import {
  explainSubnet,
  formatPrefix,
  parsePrefix,
  pickSpace,
  usualCollisions,
} from '@mast/core/addressing'
import { foreignPrefixes } from '@mast/core/plan'

const site = useSite()
const facts = computed(() => site.opened.plan.site)
const read = (text: string): { list: string[]; reason?: string } => {
  const parts = text
    .split(/[,;]+|\s+(?=[\d a-f]*[:.])/i)
    .map((t) => t.trim())
    .filter(Boolean)
  const read = parts.map(explainSubnet)
  const bad = read.find((r) => !r.ok)
  return bad && !bad.ok
    ? { list: [], reason: bad.reason }
    : { list: read.flatMap((r) => (r.ok ? [formatPrefix(r.value)] : [])) }
}
const save = (text: string): string | undefined => {
  const { list, reason } = read(text)
  return reason ?? site.edit('setAddressSpace', { addressSpace: list })
}
const save6 = (text: string): string | undefined => {
  const { list, reason } = read(text)
  return reason ?? site.edit('setAddressSpace6', { addressSpace6: list })
}
const prefer = (preferences: object): void => void site.edit('changeSite', { preferences })
const collisions = computed(() =>
  facts.value.addressSpace.flatMap((t) => {
    const p = parsePrefix(t)
    return p ? usualCollisions(p) : []
  }),
)
const habits = ref(false)
function pick(): void {
  const found = pickSpace(foreignPrefixes(site.opened.plan))
  if (found) save(formatPrefix(found))
}
const why = {
  'third-octet': 'Easy to read aloud: VLAN 20 is x.y.20.0. Costs a whole /24 for each segment.',
  free: 'Segments are packed by size; nothing is wasted, the numbers say less.',
  first: 'What most people try first; one habit for all sites is what matters.',
  last: 'Leaves the low numbers to servers and printers; one habit for all sites is what matters.',
  empty: 'A socket that nobody configured leads nowhere useful.',
  used: 'Fewer tags to set; whoever plugs in anywhere is among the clients.',
  reserved: 'One list in the gateway; a replaced device needs its new hardware address there.',
  fixed: 'Answers even without DHCP; the address has to be typed into every device.',
}
</script>

<template>
  <div class="no-print">
    <div class="fields space">
      <InTurns>
        <div class="row nowrap">
          <FieldsEditField
            label="Address space"
            :value="facts.addressSpace.join(', ')"
            :save="save"
            mono
          /><v-btn
            size="small"
            title="A private space that collides with nothing known here and with none of the usual ranges"
            @click="pick"
            >Pick one</v-btn
          >
        </div>
        <FieldsEditField
          label="IPv6 space"
          :value="facts.addressSpace6.join(', ')"
          hint="what the provider delegates, 2001:db8:20::/56"
          :save="save6"
          mono
        />
        <FieldsEditField
          label="Domain inside"
          :value="facts.domain"
          hint="harbour.internal; empty for no names"
          :save="(t) => site.edit('changeSite', { domain: t || null })"
          mono
        />
      </InTurns>
    </div>
    <p v-if="collisions.length" class="faint">
      This space holds
      {{
        collisions
          .slice(0, 3)
          .map((c) => `${formatPrefix(c.prefix)} (${c.met})`)
          .join(', ')
      }}{{ collisions.length > 3 ? ` and ${collisions.length - 3} more usual ranges` : '' }}; the
      planner goes around them where it can.
    </p>
    <details
      class="habits"
      @toggle="
        (e) => {
          habits = (e.target as HTMLDetailsElement).open
        }
      "
    >
      <summary>Habits of numbering</summary>
      <div v-if="habits" class="fields space">
        <InTurns>
          <v-select
            label="Numbering"
            :model-value="facts.preferences.vlanNumbering"
            :items="[
              { title: 'VLAN id is the third octet', value: 'third-octet' },
              { title: 'packed by size', value: 'free' },
            ]"
            :hint="why[facts.preferences.vlanNumbering]"
            persistent-hint
            @update:model-value="(vlanNumbering) => prefer({ vlanNumbering })"
          />
          <v-select
            label="Gateway"
            :model-value="facts.preferences.gatewayPosition"
            :items="[
              { title: 'first usable address', value: 'first' },
              { title: 'last usable address', value: 'last' },
            ]"
            :hint="why[facts.preferences.gatewayPosition]"
            persistent-hint
            @update:model-value="(gatewayPosition) => prefer({ gatewayPosition })"
          />
          <v-select
            label="VLAN 1"
            :model-value="facts.preferences.vlanOne"
            :items="[
              { title: 'left empty', value: 'empty' },
              { title: 'used for clients', value: 'used' },
            ]"
            :hint="why[facts.preferences.vlanOne]"
            persistent-hint
            @update:model-value="(vlanOne) => prefer({ vlanOne })"
          />
          <v-select
            label="Addresses of infrastructure"
            :model-value="facts.preferences.infrastructure"
            :items="[
              { title: 'reservations', value: 'reserved' },
              { title: 'typed into devices', value: 'fixed' },
            ]"
            :hint="why[facts.preferences.infrastructure]"
            persistent-hint
            @update:model-value="(infrastructure) => prefer({ infrastructure })"
          />
          <FieldsEditField
            label="Growth is meant over"
            type="number"
            suffix="years"
            :value="facts.preferences.growthYears"
            :save="(t) => site.edit('changeSite', { preferences: { growthYears: Number(t) } })"
            mono
          />
        </InTurns>
      </div>
    </details>
  </div>
</template>

<style scoped>
.space {
  grid-template-columns: repeat(auto-fill, minmax(240px, 1fr));
  margin-bottom: 8px;
}
.nowrap {
  flex-wrap: nowrap;
  align-items: flex-start;
}
.habits {
  margin-bottom: 10px;
}
.habits summary {
  cursor: pointer;
  font-family: var(--label);
  font-stretch: 87%;
  font-weight: 600;
  font-size: 13.5px;
  padding: 2px 0 8px;
}
</style>
