<script setup lang="ts">
/** A cable between two free sockets, with what it usually carries. */
import { newId } from '@mast/core/plan'
import { cableNotes, newCableEdits, socketWords } from '@mast/core/topology'

const site = useSite()
const a = ref<string | null>(null)
const b = ref<string | null>(null)
const lengthM = ref('5')
const refused = ref<string | undefined>()
const asked = ref(false)
/** Thousands of sockets are only listed once somebody looks for one. */
const free = useStable(() =>
  !asked.value
    ? []
    : site.opened.model.devices.flatMap((d) =>
        site
          .model!.portsOf(d.id)
          .filter(
            (p) =>
              !site.opened.model.linkAt(p.id) &&
              site.opened.model.profilePortOf(p.id).role !== 'wan' &&
              !d.wirelessNetworkId,
          )
          .map((p) => {
            const more = socketWords(site.opened.model, p.id)
            return {
              title: `${site.opened.model.portName(p.id)}${more ? ` (${more})` : ''}`,
              value: p.id,
            }
          }),
      ),
)
const deviceOf = (portId: string | null): string | undefined =>
  portId ? site.opened.plan.ports[portId]?.deviceId : undefined
const others = computed(() => free.value.filter((p) => deviceOf(p.value) !== deviceOf(a.value)))
const notes = computed(() =>
  a.value && b.value ? cableNotes(site.opened.model, a.value, b.value) : [],
)
function plug(): void {
  const [from, to] = [a.value, b.value]
  if (!from || !to) return
  const id = newId(site.opened.plan, `cable ${from} ${to}`)
  refused.value = site.mend(
    `Plug ${site.opened.model.portName(from)} into ${site.opened.model.portName(to)}`,
    newCableEdits(site.opened.model, id, from, to, Number(lengthM.value)),
  )
  if (refused.value) return
  a.value = null
  b.value = null
}
</script>

<template>
  <form class="row no-print new-cable" aria-label="New cable" @submit.prevent="plug">
    <InTurns>
      <v-autocomplete
        v-model="a"
        label="From port"
        :items="free"
        @focus="asked = true"
        variant="outlined"
        density="compact"
        hide-details
        class="port"
      />
      <v-autocomplete
        v-model="b"
        label="To port"
        :items="others"
        @focus="asked = true"
        variant="outlined"
        density="compact"
        hide-details
        class="port"
      />
      <v-text-field
        v-model="lengthM"
        label="Length"
        type="number"
        min="0.1"
        step="0.1"
        suffix="m"
        class="length"
      />
      <v-btn type="submit" color="primary" :disabled="!a || !b">Plug in</v-btn>
      <p v-for="note in notes" :key="note" class="mark cautions note">
        <ShellStateShape kind="cautions" />{{ note }}
      </p>
      <Refusal :says="refused" />
    </InTurns>
  </form>
</template>

<style scoped>
.new-cable {
  margin: 8px 0;
}
.port {
  min-width: 220px;
  max-width: 300px;
}
.note {
  flex-basis: 100%;
  margin: 2px 0;
  white-space: normal;
}
.length {
  max-width: 110px;
}
</style>
