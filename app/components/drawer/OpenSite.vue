<script setup lang="ts">
/** A site opened: from nothing, like another, or from a file of this or another system. */
import { bringInSite, openSite, readSite, type SiteLine } from '@mast/api'
import { stopPath } from '~/composables/stops'

defineProps<{ sites: readonly SiteLine[] }>()
const shown = defineModel<boolean>({ required: true })
const name = ref('')
const like = ref<string | null>(null)
const refused = ref<string | null>(null)
const siteFile = ref<string | null>(null)
const sealed = ref(false)
const passphrase = ref('')

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
</script>

<template>
  <v-dialog v-model="shown">
    <v-card class="pa-4" title="Open a site">
      <form class="d-flex flex-column ga-3" @submit.prevent="open">
        <v-text-field v-model="name" label="Name of the site" autofocus />
        <v-select
          v-if="sites.length"
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
        <DrawerExercises />
        <Refusal :says="refused" />
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
          ><v-btn variant="text" @click="shown = false">Not now</v-btn>
        </div>
      </form>
    </v-card>
  </v-dialog>
</template>
