<script setup lang="ts">
import { unknownHandOff } from '@mast/core/plan'

const site = useSite()
const add = (): void => void site.edit('addUplink', { id: 'line', name: 'Provider line', portId: null, handOff: unknownHandOff })
</script>

<template>
  <section class="in-place">
    <h2 class="mt-0">No provider line yet</h2>
    <p>Write down what the provider hands over before anything is unplugged: the gate below then says what is still missing.</p>
    <v-btn color="primary" @click="add">Record a line</v-btn>
  </section>
</template>
