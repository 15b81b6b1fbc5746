<script setup lang="ts">
/** The title block in the corner of a sheet, as drawings have. */
import { sheets } from '@mast/core/sheets'

const props = defineProps<{ title: string; number: number }>()
const site = useSite()
const last = computed(() => site.revisions[0])
</script>

<template>
  <table v-if="site.plan" class="block" aria-label="Title block">
    <tbody>
      <tr>
        <td colspan="2" class="label big">{{ site.plan.site.name }}</td>
        <td>
          sheet<br /><b>{{ props.number }} of {{ sheets.length }}</b>
        </td>
      </tr>
      <tr>
        <td class="label">{{ props.title }}</td>
        <td>
          rev<br /><b class="mono">{{ site.revision }}</b>
        </td>
        <td>
          date<br /><b class="mono">{{ last ? dayText(last.at) : '' }}</b>
        </td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.block {
  border-collapse: collapse;
  font-size: 11.5px;
  margin: 28px 0 0 auto;
  width: 320px;
  max-width: 100%;
  break-inside: avoid;
}
td {
  border: 1px solid var(--ink);
  padding: 3px 8px;
  vertical-align: top;
  line-height: 1.25;
}
td:first-child {
  width: 60%;
  font-weight: 600;
  font-size: 13px;
}
.big {
  font-size: 15px !important;
}
</style>
