<script setup lang="ts">
/** IKEv2: what both ends say, next to each other, each value typed where it stands. */
import type { Tunnel } from '@mast/core/plan'
import { compareIke, mirrored, usualIke, type IkeEnd } from '@mast/core/tunnels'
import { useTunnels } from './useTunnels'

const site = useSite()
const { tunnel, change } = useTunnels()
const refused = ref<string | undefined>()
const here = computed(() => tunnel.value?.ike ?? null)
const there = computed(() => tunnel.value?.foreignIke ?? null)
const rows = computed(() =>
  here.value ? compareIke(here.value, there.value ?? mirrored(here.value)) : [],
)
/** In the column of the other end stands what it calls the other way round. */
const mirror: Partial<Record<keyof IkeEnd, keyof IkeEnd>> = {
  localId: 'remoteId',
  remoteId: 'localId',
  localSelectors: 'remoteSelectors',
  remoteSelectors: 'localSelectors',
}
const text = (end: IkeEnd, field: keyof IkeEnd): string => {
  const value = end[field]
  return Array.isArray(value) ? value.join(', ') : String(value)
}
function typed(end: IkeEnd, field: keyof IkeEnd, given: string): IkeEnd {
  const was = end[field]
  const value = Array.isArray(was)
    ? given.split(',').flatMap((t) => t.trim() || [])
    : typeof was === 'number'
      ? Number(given)
      : given
  return { ...end, [field]: value }
}
const saveHere = (field: keyof IkeEnd) => (given: string) =>
  here.value ? change({ ike: typed(here.value, field, given) }) : undefined
const saveThere = (field: keyof IkeEnd) => (given: string) => {
  const end = there.value ?? (here.value && mirrored(here.value))
  return end ? change({ foreignIke: typed(end, mirror[field] ?? field, given) }) : undefined
}
function begin(): void {
  if (tunnel.value) refused.value = change({ ike: usualIke(site.opened.plan, tunnel.value) })
}
const protocols: readonly { title: string; value: Tunnel['protocol'] }[] = [
  { title: 'WireGuard', value: 'wireguard' },
  { title: 'IKEv2', value: 'ikev2' },
]
</script>

<template>
  <section v-if="tunnel?.kind === 'sites'" aria-label="Protocol of the tunnel">
    <div class="row no-print protocol">
      <v-select
        label="Protocol"
        style="max-width: 200px"
        :model-value="tunnel.protocol"
        :items="protocols"
        @update:model-value="(protocol: Tunnel['protocol']) => (refused = change({ protocol }))"
      />
      <v-btn v-if="tunnel.protocol === 'ikev2' && !here" @click="begin"
        >Propose what is usual</v-btn
      >
    </div>
    <Refusal :says="refused" />
    <template v-if="tunnel.protocol === 'ikev2' && here">
      <h2>What both ends say</h2>
      <p class="faint">
        {{
          there
            ? 'As the other end is set, next to this one.'
            : 'The other end has to be set so; type what it really has, where it differs.'
        }}
      </p>
      <div class="scroll-x">
        <table class="plain" aria-label="Both ends of IKEv2">
          <thead>
            <tr>
              <th>Value</th>
              <th>Here</th>
              <th>The other end</th>
              <th>Comes of it</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="r in rows" :key="r.field" :class="{ apart: !r.isFit }">
              <td>{{ r.what }}</td>
              <td>
                <FieldsEditField
                  :label="`${r.what}, here`"
                  :value="text(here, r.field)"
                  :save="saveHere(r.field)"
                  mono
                />
              </td>
              <td>
                <FieldsEditField
                  :label="`${r.what}, there`"
                  :value="text(there ?? mirrored(here), mirror[r.field] ?? r.field)"
                  :save="saveThere(r.field)"
                  mono
                />
              </td>
              <td>
                <span class="mark" :class="r.isFit ? 'proven' : 'blockers'"
                  ><ShellStateShape :kind="r.isFit ? 'proven' : 'blockers'" /></span
                >{{ r.means }}
              </td>
            </tr>
          </tbody>
        </table>
      </div>
    </template>
  </section>
</template>

<style scoped>
/* Room for the label on the frame. */
.protocol {
  padding-top: 10px;
}
td {
  vertical-align: middle;
}
/* Room for the label on the frame of a field. */
td:nth-child(2),
td:nth-child(3) {
  min-width: 255px;
  padding-top: 11px;
}
.mark {
  margin-right: 6px;
}
.apart td:first-child {
  font-weight: 600;
}
</style>
