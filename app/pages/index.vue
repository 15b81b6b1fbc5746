<script setup lang="ts">
import {
  bringInSite,
  LEAST_PASSPHRASE,
  openSite,
  readSite,
  readSites,
  removeSite,
  takeOutSite,
  type SiteLine,
} from '@mast/api'
import { sheets } from '@mast/core/sheets'
import { stopPath } from '~/composables/stops'
import { answered } from '~/offline/browserStore'

const site = useSite()
const field = useField()
const sites = ref<SiteLine[] | null>(null)
const failed = ref<string | null>(null)
const finding = ref(false)
const opening = ref(false)
const name = ref('')
const like = ref<string | null>(null)
const refused = ref<string | null>(null)
const removing = ref<SiteLine | null>(null)
const saving = ref<SiteLine | null>(null)
const siteFile = ref<string | null>(null)
const sealed = ref(false)
const passphrase = ref('')
watch([opening, saving], () => {
  passphrase.value = ''
  siteFile.value = null
  sealed.value = false
  refused.value = null
})
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

const blockers = (s: SiteLine): number => Object.values(s.marks).reduce((n, m) => n + m.blockers, 0)
function next(s: SiteLine): { words: string; path: string } {
  for (const sheet of sheets) {
    const words = sheet.next(s)
    if (words) return { words, path: stopPath(s.id, sheet.id) }
  }
  return { words: 'Look at it', path: stopPath(s.id, 'survey') }
}
async function open(): Promise<void> {
  refused.value = null
  try {
    const { id } = await ask(openSite, {
      body: { name: name.value, ...(like.value ? { plan: await planLike(like.value) } : {}) },
    })
    await navigateTo(stopPath(id, 'survey'))
  } catch (error) {
    refused.value = errorText(error)
  }
}
/** Another site's plan without what is that place's alone, in space that the other does not use. */
async function planLike(siteId: string): Promise<object> {
  const [{ presetFrom }, { formatPrefix, pickSpace, prefix }, { plan }] = await Promise.all([
    import('@mast/core/survey'),
    import('@mast/core/addressing'),
    ask(readSite, { params: { site: siteId } }),
  ])
  const space = pickSpace(plan.site.addressSpace.map(prefix))
  return presetFrom(plan, name.value, space ? [formatPrefix(space)] : plan.site.addressSpace)
}
async function openFromFile(file: File | File[] | null): Promise<void> {
  const chosen = Array.isArray(file) ? file[0] : file
  if (!chosen) return
  refused.value = null
  try {
    const text = await chosen.text()
    if (isSiteFile(text)) {
      siteFile.value = text
      sealed.value = /"secrets":\s*\{/.test(text)
      if (!sealed.value) await bringIn()
      return
    }
    const { parsePlanText } = await import('@mast/core/plan')
    const parsed = parsePlanText(text)
    if (!parsed.ok) {
      const p = parsed.problems[0]!
      refused.value = `${chosen.name}, line ${p.line}, column ${p.column}: ${p.reason}`
      return
    }
    const { id } = await ask(openSite, {
      body: { name: name.value || parsed.plan.site.name, plan: parsed.plan },
    })
    await navigateTo(stopPath(id, 'survey'))
  } catch (error) {
    refused.value = errorText(error)
  }
}
/** A site file says what it is at its start; a plan document is something else. */
const isSiteFile = (text: string): boolean => /^\s*\{\s*"format":\s*"able-mast-site"/.test(text)
async function bringIn(): Promise<void> {
  refused.value = null
  try {
    const { id } = await ask(bringInSite, {
      body: {
        file: JSON.parse(siteFile.value!) as object,
        passphrase: sealed.value ? passphrase.value : null,
      },
    })
    await navigateTo(stopPath(id, 'survey'))
  } catch (error) {
    refused.value =
      error instanceof SyntaxError
        ? 'This file is cut off or damaged; get it again.'
        : errorText(error)
  }
}
async function saveFile(): Promise<void> {
  const site_ = saving.value!
  refused.value = null
  try {
    const file = await ask(takeOutSite, {
      params: { site: site_.id },
      body: { passphrase: passphrase.value || null },
    })
    saveAs(`${site_.id}.site.json`, 'application/json', JSON.stringify(file))
    saving.value = null
  } catch (error) {
    refused.value = errorText(error)
  }
}
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
      <p v-if="failed" role="alert" class="mark blockers">{{ failed }}</p>
      <p v-if="sites?.length === 0" class="lead">
        No site yet. Open one: a name is enough, the survey asks for the rest. A plan document of
        another system can be read in as well.
      </p>
      <div class="sheets">
        <article v-for="s in sites" :key="s.id" class="small-sheet">
          <NuxtLink :to="stopPath(s.id, 'survey')" class="name label">{{ s.name }}</NuxtLink>
          <div class="track" aria-hidden="true">
            <span
              v-for="k in ['survey', 'addresses', 'wiring', 'wifi', 'policy']"
              :key="k"
              class="tick"
              :class="{
                wrong: (s.marks[k]?.blockers ?? 0) > 0,
                clear: s.devices > 0 && (s.marks[k]?.blockers ?? 0) === 0,
              }"
            />
            <span
              class="tick"
              :class="{
                clear: s.stepsDone === s.steps && s.steps > 0,
                part: s.stepsDone > 0 && s.stepsDone < s.steps,
              }"
            /><span
              class="tick"
              :class="{
                clear: s.adoptable > 0 && s.inService === s.adoptable,
                part: s.inService > 0 && s.inService < s.adoptable,
              }"
            />
            <span
              class="tick"
              :class="{ clear: s.proof?.proven, wrong: (s.proof?.contradicts ?? 0) > 0 }"
            />
          </div>
          <p v-if="s.unread" class="mark blockers unread">
            <ShellStateShape kind="blockers" />Not looked at: {{ s.unread }}
          </p>
          <p v-else-if="s.isLooking" class="faint" role="status">Looking through its plan ...</p>
          <dl v-else>
            <dt>Remarks</dt>
            <dd>
              <span v-if="blockers(s)" class="mark blockers"
                ><ShellStateShape kind="blockers" :count="blockers(s)" />to mend</span
              ><span v-else-if="s.devices" class="mark clear"
                ><ShellStateShape kind="clear" />clear</span
              ><span v-else class="faint">nothing yet</span>
            </dd>
            <dt>Run sheet</dt>
            <dd>{{ s.stepsDone }} of {{ s.steps }} steps</dd>
            <dt>In service</dt>
            <dd>{{ s.inService }} of {{ s.adoptable }} devices</dd>
            <dt>Proof</dt>
            <dd>
              <span v-if="s.proof?.proven && s.proof.revision === s.revision" class="mark proven"
                ><ShellStateShape kind="proven" />proven, {{ s.proof.asPlanned }} tests</span
              ><span v-else-if="s.proof"
                >{{ s.proof.asPlanned }} as planned, {{ s.proof.contradicts }} contradict</span
              ><span v-else class="faint">not run</span>
            </dd>
          </dl>
          <p v-if="!s.unread && !s.isLooking" class="next">
            <span class="faint">next</span>{{ ' ' }}
            <NuxtLink :to="next(s).path">{{ next(s).words }}</NuxtLink>
          </p>
          <div class="foot mono faint">
            <span>rev {{ s.revision }}</span
            ><span>{{ s.devices }} devices</span><span>{{ s.segments }} segments</span
            ><button type="button" class="remove" @click="saving = s">as a file</button
            ><button type="button" class="remove" @click="removing = s">remove</button>
          </div>
        </article>
      </div>
    </main>
    <v-dialog v-model="opening">
      <v-card class="pa-4" title="Open a site">
        <form class="d-flex flex-column ga-3" @submit.prevent="open">
          <v-text-field v-model="name" label="Name of the site" autofocus />
          <v-select
            v-if="sites?.length"
            v-model="like"
            label="Like another one"
            :items="[
              { title: 'no, an empty one', value: null },
              ...sites.map((s) => ({ title: s.name, value: s.id })),
            ]"
            hint="All of it but name, addresses, serials, coordinates and what the provider told"
            persistent-hint
          />
          <v-file-input
            label="Or from a plan document or a site file (JSON)"
            accept=".json,application/json"
            @update:model-value="openFromFile"
          />
          <v-text-field
            v-if="sealed"
            v-model="passphrase"
            label="Passphrase of the file"
            type="password"
            autocomplete="off"
            hint="Its keys and passwords are sealed under it"
            persistent-hint
          />
          <p v-if="refused" class="mark blockers" style="white-space: normal" role="alert">
            {{ refused }}
          </p>
          <div class="row">
            <v-btn
              v-if="sealed"
              color="primary"
              variant="flat"
              :disabled="!passphrase"
              @click="bringIn"
              >Bring it in</v-btn
            ><v-btn v-else type="submit" color="primary" variant="flat" :disabled="!name.trim()"
              >Open</v-btn
            ><v-btn variant="text" @click="opening = false">Not now</v-btn>
          </div>
        </form>
      </v-card>
    </v-dialog>
    <v-dialog :model-value="saving !== null" @update:model-value="saving = null">
      <v-card v-if="saving" class="pa-4" :title="`${saving.name} as one file`">
        <p>
          The plan with its whole history, the steps, the evidence and the log. Claims stay here: a
          device belongs to the controller that claimed it.
        </p>
        <form class="d-flex flex-column ga-3 mt-3" @submit.prevent="saveFile">
          <v-text-field
            v-model="passphrase"
            label="Passphrase for its keys and passwords"
            type="password"
            autocomplete="new-password"
            :hint="`At least ${LEAST_PASSPHRASE} characters. Left empty, the secrets stay out of the file.`"
            persistent-hint
          />
          <p v-if="refused" class="mark blockers" style="white-space: normal" role="alert">
            {{ refused }}
          </p>
          <div class="row">
            <v-btn type="submit" color="primary" variant="flat">Save the file</v-btn
            ><v-btn variant="text" @click="saving = null">Not now</v-btn>
          </div>
        </form>
      </v-card>
    </v-dialog>
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
.small-sheet {
  background: var(--paper);
  border: 1px solid var(--hair);
  padding: 16px 18px 10px;
  box-shadow: 0 1px 3px rgba(0, 0, 0, 0.12);
  display: flex;
  flex-direction: column;
  gap: 10px;
}
.name {
  font-size: 19px;
  font-weight: 600;
  color: var(--ink);
  text-decoration: none;
}
.name:hover {
  text-decoration: underline;
}
.track {
  display: flex;
  gap: 0;
  align-items: center;
}
.tick {
  flex: 1;
  height: 10px;
  border: 1px solid var(--hair);
  margin-right: -1px;
}
.tick.clear {
  background: var(--proven);
}
.tick.wrong {
  background: var(--blocker);
}
.tick.part {
  background: repeating-linear-gradient(135deg, var(--proven) 0 3px, transparent 3px 7px);
}
dl {
  display: grid;
  grid-template-columns: 90px 1fr;
  gap: 2px 8px;
  margin: 0;
}
dt {
  color: var(--faint);
}
dd {
  margin: 0;
}
.unread {
  white-space: normal;
}
.next {
  margin-bottom: 0;
  border-top: 1px solid var(--hair);
  border-bottom: 1px solid var(--hair);
  padding: 8px 0;
  font-weight: 600;
  margin-top: auto;
}
.next .faint {
  font-weight: 400;
  margin-right: 8px;
}
.foot {
  display: flex;
  gap: 10px;
  font-size: 12px;
  white-space: nowrap;
}
.foot span:nth-child(3) {
  margin-right: auto;
}
.remove {
  padding: 0;
  background: none;
  border: 0;
  color: var(--faint);
  font: inherit;
  cursor: pointer;
  text-decoration: underline;
}
</style>
