<script setup lang="ts">
import { inPlan } from '@mast/core/plan'
import { setSecret } from '@mast/api'
import { spanningTreeOf } from '@mast/core/topology'

const site = useSite()
const facts = computed(() => site.opened.plan.site)
const change = (changes: object): string | undefined => site.edit('changeSite', changes)
const management = (changes: Partial<typeof facts.value.management>): string | undefined =>
  change({ management: { ...facts.value.management, ...changes } })
/** With the user come the names under which its two passwords are in the vault. */
const watcher = (user: string): string | undefined =>
  management({
    monitoring: user
      ? { user, authenticationRef: 'monitoring-authentication', privacyRef: 'monitoring-privacy' }
      : null,
  })
async function secret(ref_: string, text: string): Promise<string | undefined> {
  try {
    await ask(setSecret, { params: { site: site.opened.id, ref: ref_ }, body: { secret: text } })
    return undefined
  } catch (error) {
    return errorText(error)
  }
}
const bridges = useStable(() =>
  [...spanningTreeOf(site.opened.model).priorities.keys()].map((id) => ({
    title: inPlan(site.opened.plan.devices, id).name,
    value: id,
  })),
)
const isOpen = ref(false)
const zones = Intl.supportedValuesOf('timeZone')
const number = (text: string): number | null => (text === '' ? null : Number(text))
const electricity = (changes: object): string | undefined =>
  change({
    electricity: {
      ...(facts.value.electricity ?? { pricePerKwh: 0, currency: 'GBP' }),
      ...changes,
    },
  })
/** How far the time of the zone is from UTC, in winter and in summer. */
const daylight = computed(() => {
  const offset = (month: number): string =>
    new Intl.DateTimeFormat('en-GB', {
      timeZone: facts.value.timeZone,
      timeZoneName: 'shortOffset',
    })
      .formatToParts(new Date(Date.UTC(2026, month, 15)))
      .find((p) => p.type === 'timeZoneName')!.value
  const [january, july] = [offset(0), offset(6)]
  return january === july ? `${january} all year` : `${january} in January, ${july} in July`
})
</script>

<template>
  <section aria-label="Site">
    <p class="facts">
      <b>{{ facts.country }}</b>, clocks of <b>{{ facts.timeZone }}</b> ({{ daylight }}),
      <b>{{ facts.units }}</b>{{ facts.domain ? ', names under ' : ''
      }}<b v-if="facts.domain" class="mono">{{ facts.domain }}</b>
      <v-btn
        size="small"
        variant="text"
        class="no-print"
        :aria-expanded="isOpen"
        @click="isOpen = !isOpen"
        >{{ isOpen ? 'Close' : 'Facts of the site' }}</v-btn
      >
    </p>
    <template v-if="isOpen">
      <div class="fields">
        <InTurns>
          <FieldsEditField label="Name" :value="facts.name" :save="(name) => change({ name })" />
          <FieldsEditField
            label="Country"
            :value="facts.country"
            hint="two letters; it sets the radio rules"
            :save="(t) => change({ country: t.toUpperCase() })"
            mono
          />
          <v-autocomplete
            label="Time zone"
            :model-value="facts.timeZone"
            :items="zones"
            variant="outlined"
            density="compact"
            :hint="daylight"
            persistent-hint
            @update:model-value="(timeZone) => timeZone && change({ timeZone })"
          />
          <v-select
            label="Units"
            :model-value="facts.units"
            :items="['metric', 'imperial']"
            @update:model-value="(units) => change({ units })"
          />
          <FieldsEditField
            label="Electricity"
            type="number"
            :suffix="`${facts.electricity?.currency ?? 'GBP'} a kWh`"
            :value="facts.electricity?.pricePerKwh ?? null"
            :save="
              (t) =>
                t === '' ? change({ electricity: null }) : electricity({ pricePerKwh: Number(t) })
            "
            mono
          />
          <FieldsEditField
            label="Currency"
            :value="facts.electricity?.currency ?? null"
            hint="three letters"
            :save="(t) => electricity({ currency: t.toUpperCase() })"
            mono
          />
          <FieldsEditField
            label="Slack on every run"
            type="number"
            suffix="%"
            :value="facts.cabling.slackPercent"
            :save="(t) => change({ cabling: { ...facts.cabling, slackPercent: number(t) ?? 0 } })"
            mono
          />
          <FieldsEditField
            label="Spare leads"
            type="number"
            :value="facts.cabling.spareLeads"
            :save="(t) => change({ cabling: { ...facts.cabling, spareLeads: number(t) ?? 0 } })"
            mono
          />
        </InTurns>
      </div>
      <h3>Looking after the devices</h3>
      <div class="fields">
        <InTurns>
          <FieldsEditField
            label="Shown before the password"
            :value="facts.management.banner || null"
            hint="on every device's page"
            :save="(banner) => management({ banner })"
          />
          <FieldsEditField
            label="Devices send their log to"
            :value="facts.management.logTo"
            hint="an address inside; empty sends nothing"
            :save="(t) => management({ logTo: t || null })"
            mono
          />
          <FieldsEditField
            label="Keep what devices run, every"
            type="number"
            suffix="days"
            :value="facts.management.backupEveryDays"
            hint="and whenever it changes; empty keeps nothing by itself"
            :save="(t) => management({ backupEveryDays: number(t) })"
          />
          <FieldsEditField
            label="Monitoring user"
            :value="facts.management.monitoring?.user ?? null"
            hint="SNMPv3; empty is none"
            :save="watcher"
            mono
          />
          <v-select
            v-if="bridges.length > 1"
            label="Root of the spanning tree"
            :model-value="facts.preferences.spanningTreeRootId"
            :items="[{ title: 'the one nearest to the gateway', value: null }, ...bridges]"
            @update:model-value="
              (spanningTreeRootId) => change({ preferences: { spanningTreeRootId } })
            "
          />
          <template v-if="facts.management.monitoring">
            <FieldsKeyField
              label="Its password, 14 or more"
              :save="(t) => secret(facts.management.monitoring!.authenticationRef, t)"
            />
            <FieldsKeyField
              label="Its password for privacy"
              :save="(t) => secret(facts.management.monitoring!.privacyRef, t)"
            />
          </template>
        </InTurns>
      </div>
    </template>
  </section>
</template>

<style scoped>
.facts {
  margin: 0 0 10px;
}
h3 {
  margin: 12px 0 6px;
  font-size: 15px;
}
</style>
