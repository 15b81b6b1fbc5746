<script setup lang="ts">
/** This site and others of one's own joined by tunnels: a tunnel and its peers in every plan at once. */
import { joinByTunnels, readSites, type SiteLine } from '@mast/api'

const shown = defineModel<boolean>({ required: true })
const site = useSite()
const others = ref<readonly SiteLine[]>([])
const chosen = ref<string[]>([])
const shape = ref<'hub' | 'all'>('hub')
const refused = ref<string | undefined>()
const isBusy = ref(false)
const done = ref<string | null>(null)

watch(
  shown,
  async (isShown) => {
    if (!isShown) return
    refused.value = undefined
    done.value = null
    try {
      others.value = (await ask(readSites, {})).filter((s) => s.id !== site.opened.id)
    } catch (error) {
      refused.value = errorText(error)
    }
  },
  { immediate: true },
)
async function join(): Promise<void> {
  refused.value = undefined
  isBusy.value = true
  try {
    const { joined } = await ask(joinByTunnels, {
      params: { site: site.opened.id },
      body: { others: chosen.value, shape: shape.value },
    })
    done.value =
      `Joined: ${joined.map((j) => j.name).join(', ')}. Each plan has its end; ` +
      'say on Policy who reaches whom.'
    chosen.value = []
  } catch (error) {
    refused.value = errorText(error)
  } finally {
    isBusy.value = false
  }
}
</script>

<template>
  <v-dialog v-model="shown">
    <v-card class="pa-4" title="Join sites by tunnels">
      <p>
        Each of them gets a tunnel, addresses that are free at all, keys of its own and a shared key
        for each pair. Networks for guests are no part of it, and nobody reaches anything before
        Policy says so.
      </p>
      <form class="d-flex flex-column ga-3 mt-3" @submit.prevent="join">
        <fieldset class="with">
          <legend>With</legend>
          <v-checkbox
            v-for="s in others"
            :key="s.id"
            v-model="chosen"
            :label="s.name"
            :value="s.id"
          />
          <p v-if="others.length === 0" class="faint">There is no other site of yours.</p>
        </fieldset>
        <v-radio-group v-model="shape">
          <v-radio :label="`Over ${site.opened.plan.site.name}, as the hub`" value="hub" />
          <v-radio label="All with all" value="all" />
        </v-radio-group>
        <Refusal :says="refused" />
        <p v-if="done" role="status">{{ done }}</p>
        <div class="row">
          <v-btn
            type="submit"
            color="primary"
            variant="flat"
            :disabled="chosen.length === 0 || isBusy"
            >Join them</v-btn
          ><v-btn variant="text" @click="shown = false">{{ done ? 'Close' : 'Not now' }}</v-btn>
        </div>
      </form>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.with {
  max-height: 300px;
  overflow-y: auto;
  border: 0;
}
</style>
