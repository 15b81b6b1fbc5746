<script setup lang="ts">
/** Says of any address or subnet what it is and where it lies in this site. */
import { classifyText, formatPrefix } from '@mast/core/addressing'

const text = ref('')
const entry = computed(() => (text.value.trim() ? classifyText(text.value.trim()) : undefined))
</script>

<template>
  <section class="no-print" aria-label="What is an address">
    <h2>What is this address?</h2>
    <div class="row">
      <v-text-field
        v-model="text"
        label="Any address"
        placeholder="172.0.0.1"
        style="max-width: 260px"
      />
      <p v-if="entry" role="status">
        <b>{{ entry.name }}</b>{{ ' ' }}
        <span class="mono">{{ entry.kind === 'public' ? '' : formatPrefix(entry.prefix) }}</span>{{
          ' '
        }}
        <span class="faint"
          >{{ entry.source }};
          {{
            entry.global ? 'reachable from the internet' : 'not reachable from the internet'
          }}</span
        >
      </p>
      <p v-else-if="text.trim()" class="faint">Not an address yet.</p>
    </div>
  </section>
</template>
