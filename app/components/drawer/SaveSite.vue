<script setup lang="ts">
/** A site as one file, with its keys under a passphrase or without them. */
import { LEAST_PASSPHRASE, takeOutSite, type SiteLine } from '@mast/api'

const props = defineProps<{ s: SiteLine }>()
const shown = defineModel<boolean>({ required: true })
const passphrase = ref('')
const refused = ref<string | null>(null)

async function saveFile(): Promise<void> {
  refused.value = null
  try {
    const file = await ask(takeOutSite, {
      params: { site: props.s.id },
      body: { passphrase: passphrase.value || null },
    })
    saveAs(`${props.s.id}.site.json`, 'application/json', JSON.stringify(file))
    shown.value = false
  } catch (error) {
    refused.value = errorText(error)
  }
}
</script>

<template>
  <v-dialog v-model="shown">
    <v-card class="pa-4" :title="`${s.name} as one file`">
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
        <Refusal :says="refused" />
        <div class="row">
          <v-btn type="submit" color="primary" variant="flat">Save the file</v-btn
          ><v-btn variant="text" @click="shown = false">Not now</v-btn>
        </div>
      </form>
    </v-card>
  </v-dialog>
</template>
