<script setup lang="ts">
import { editDistance } from '@mast/core/adoption'

const site = useSite()
const field = useField()
const deviceOf = (serial: string | null) => site.model?.devices.find((d) => d.serial === serial)
const correct = (id: string, serial: string): void => void site.edit('changeDevice', { id, changes: { serial } })
</script>

<template>
  <section v-if="field.foreign.length" aria-label="Strangers">
    <h2>Calls with a serial of no plan</h2>
    <article v-for="f in field.foreign" :key="f.serial" class="stranger">
      <p><span class="mark cautions"><ShellStateShape kind="cautions" />foreign</span> <b class="mono">{{ f.serial }}</b></p>
      <p class="mono faint">{{ f.hardwareAddress }}</p>
      <template v-if="deviceOf(f.nearest)">
        <p>{{ deviceOf(f.nearest)!.name }} is planned as <span class="mono">{{ f.nearest }}</span>, {{ editDistance(f.serial, f.nearest!) }} apart.</p>
        <v-btn size="small" color="primary" @click="correct(deviceOf(f.nearest)!.id, f.serial)">The label says {{ f.serial }}</v-btn>
      </template>
    </article>
  </section>
</template>

<style scoped>.stranger { border-left: 2px solid var(--caution); padding-left: 10px; margin-bottom: 12px; } p { margin: 2px 0; }</style>
