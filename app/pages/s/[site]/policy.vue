<script setup lang="ts">
import { proposePolicy } from '@mast/core/policy'

definePageMeta({ layout: 'sheet' })
const site = useSite()
const pair = ref<{ from: string; to: string } | null>(null)
const stating = ref(false)
const first = computed(() => site.model?.segments[0]?.id)
const proposal = computed(() => (site.plan ? proposePolicy(site.plan) : []))
</script>

<template>
  <ShellSheetFrame stop="policy" has-remarks>
    <template #tools>
      <v-btn
        v-if="first"
        title="Of single hosts, groups, the gateway, everywhere"
        @click="
          () => {
            pair = null
            stating = !stating
          }
        "
        >State another</v-btn
      >
      <v-btn
        v-if="proposal.length"
        title="States the usual policy for pairs that nothing is stated of, from what the segments are for"
        @click="site.mend('State the proposed policy', proposal)"
        >State the usual ({{ proposal.length }})</v-btn
      >
    </template>
    <PolicyPairForm
      v-if="stating && first"
      :pair="{ from: first, to: 'internet' }"
      open
      @close="stating = false"
    />
    <PolicyGrid v-model:pair="pair" />
    <PolicyPairForm
      v-if="pair"
      :key="`${pair.from}-${pair.to}`"
      :pair="pair"
      @close="pair = null"
    />
    <PolicyTracePanel />
    <PolicyForwards />
    <PolicyIntents />
    <PolicyGroups />
    <PolicyServices />
    <PolicyRules />
  </ShellSheetFrame>
</template>
