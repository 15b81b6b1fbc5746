<script setup lang="ts">
/** The drawer: all sites, and where each has to go on. */
import { readSites, removeSite, type SiteLine } from '@mast/api'
import { answered } from '~/offline/browserStore'

const site = useSite()
const field = useField()
const sites = ref<SiteLine[] | null>(null)
const failed = ref<string | null>(null)
const finding = ref(false)
const opening = ref(false)
const removing = ref<SiteLine | null>(null)
const saving = ref<SiteLine | null>(null)
useHead({ title: 'Sites · Able Mast' })

const again = useTimeoutFn(() => void read(), 1000, { immediate: false })
async function read(): Promise<void> {
  try {
    sites.value = await answered(readSites, {}, () =>
      ask(readSites, {}, { timeoutMs: READ_TIMEOUT_MS }),
    )
  } catch (error) {
    failed.value = errorText(error)
  }
  if (sites.value?.some((s) => s.isLooking)) again.start()
}
onMounted(() => {
  site.close()
  field.unfollow()
  void read()
})

async function remove(): Promise<void> {
  const gone = removing.value
  removing.value = null
  if (!gone) return
  try {
    await ask(removeSite, { params: { site: gone.id } })
    await read()
  } catch (error) {
    failed.value = errorText(error)
  }
}
useEventListener(window, 'keydown', (event: KeyboardEvent) => {
  if (event.key === '/' && !['INPUT', 'TEXTAREA'].includes((event.target as HTMLElement).tagName)) {
    event.preventDefault()
    finding.value = true
  }
})
</script>

<template>
  <div>
    <ShellTopStrip @find="finding = true" />
    <main class="drawer">
      <div class="row spread">
        <div>
          <h1>Sites</h1>
          <p class="faint">Where do I have to go on?</p>
        </div>
        <v-btn color="primary" @click="opening = true">Open a site</v-btn>
      </div>
      <Refusal :says="failed" />
      <p v-if="sites?.length === 0" class="lead">
        No site yet. Open one: a name is enough, the survey asks for the rest. A plan document of
        another system can be read in as well.
      </p>
      <div class="sheets">
        <DrawerSiteSheet
          v-for="s in sites"
          :key="s.id"
          :s="s"
          @save="saving = s"
          @remove="removing = s"
        />
      </div>
    </main>
    <DrawerOpenSite v-if="opening" v-model="opening" :sites="sites ?? []" />
    <DrawerSaveSite
      v-if="saving"
      :s="saving"
      :model-value="true"
      @update:model-value="saving = null"
    />
    <v-dialog :model-value="removing !== null" @update:model-value="removing = null">
      <v-card v-if="removing" class="pa-4" :title="`Remove ${removing.name}?`">
        <p>
          This cannot be undone. Gone will be: its {{ removing.revision }} revisions, the states and
          claims of {{ removing.adoptable }} devices, {{ removing.stepsDone }} steps done, every
          proof, its keys and its log.
        </p>
        <div class="row mt-3">
          <v-btn color="error" @click="remove">Remove it</v-btn
          ><v-btn variant="text" @click="removing = null">Keep it</v-btn>
        </div>
      </v-card>
    </v-dialog>
    <ShellFindDialog v-model="finding" />
  </div>
</template>

<style scoped>
.drawer p {
  margin: 0;
}
.drawer {
  padding: 20px;
  max-width: 1280px;
  margin: 0 auto;
}
.sheets {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(330px, 1fr));
  gap: 20px;
  margin-top: 16px;
}
</style>
