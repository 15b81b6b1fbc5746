<script setup lang="ts">
/** One device of the roll: how far it has come, what it was told, and what can be done with it. */
import { controllerUrl } from '@mast/core/adoption'
import { pathOf, readConfiguration, type RollDevice } from '@mast/api'

const props = defineProps<{ roll: RollDevice }>()
const site = useSite()
const field = useField()
const id = computed(() => props.roll.deviceId)
const device = computed(() => site.opened.model.device(id.value))
const url = computed(() => controllerUrl(site.opened.model))
const configuration = computed(() =>
  pathOf(readConfiguration, { params: { site: site.opened.id, device: id.value } }),
)
/** Who calls has found it. */
const calls = computed(() => ['loading', 'in-service', 'drifted'].includes(props.roll.state))
const maySet = computed(() => site.role === 'owner' || site.role === 'engineer')
const typed = ref('')
const refused = ref<string | undefined>()
const commandWords = {
  fetch: 'load its configuration again',
  restart: 'restart',
  locate: 'show itself',
}
async function tell(run: () => Promise<string | undefined>): Promise<void> {
  refused.value = await run()
}
</script>

<template>
  <div class="in-place entry" :data-device="id">
    <AdoptRollTrack :device="roll" :name="device.name" with-words />
    <p class="facts">
      Serial <b class="mono">{{ device.serial ?? 'not in the plan' }}</b><template
        v-if="roll.address"
        >, address <b class="mono">{{ roll.address }}</b></template
      ><template v-if="roll.told"
        >. Told {{ secondText(roll.told.at) }} to {{ commandWords[roll.told.command]
        }}{{
          roll.told.doneAt
            ? `, done ${secondText(roll.told.doneAt)}`
            : '; it hears of it when it calls next'
        }}</template
      >.
    </p>
    <AdoptDrift
      v-if="roll.state === 'drifted'"
      :roll="roll"
      :name="device.name"
      :firmware-wanted="site.opened.model.firmwareWanted(id)"
    />
    <AdoptBackups :device-id="id" />
    <AdoptFirmware v-if="maySet" :ids="[id]" />
    <AdoptWays v-if="!calls" :device-id="id" />
    <div class="row no-print">
      <form
        v-if="!roll.claimed && roll.state !== 'foreign' && url"
        class="row"
        @submit.prevent="tell(() => field.claim(id, typed))"
      >
        <v-text-field v-model="typed" label="Serial off the label" class="serial" /><v-btn
          type="submit"
          color="primary"
          :variant="roll.state === 'seen' ? 'flat' : 'outlined'"
          :disabled="!typed"
          >Claim</v-btn
        >
      </form>
      <template v-if="roll.claimed">
        <v-btn
          v-if="roll.state !== 'drifted'"
          size="small"
          variant="text"
          @click="tell(() => field.command(id, 'fetch'))"
          >Load again</v-btn
        ><v-btn size="small" variant="text" @click="tell(() => field.command(id, 'restart'))"
          >Restart</v-btn
        ><v-btn size="small" variant="text" @click="tell(() => field.giveUp(id))">Give up</v-btn>
      </template>
      <v-btn
        v-if="roll.claimed || !url"
        size="small"
        variant="text"
        :href="configuration"
        target="_blank"
        >Configuration</v-btn
      >
    </div>
    <Refusal :says="refused" />
  </div>
</template>

<style scoped>
.facts {
  margin: 6px 0;
}
.serial {
  min-width: 220px;
}
</style>
