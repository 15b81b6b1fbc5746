<script setup lang="ts">
/** First causes of what contradicts the plan, the likeliest first. */
import type { Cause } from '@mast/core/proof'

defineProps<{ causes: readonly Cause[] }>()
</script>

<template>
  <section aria-label="Likely causes" class="causes">
    <h2>Likely causes, in the order to check</h2>
    <ol>
      <li v-for="(c, i) in causes" :key="i" class="keep">
        <p class="text">
          <b>{{ c.text }}</b>{{ ' ' }}
          <span class="faint"
            >explains {{ c.explains.length }}
            {{ c.explains.length === 1 ? 'result' : 'results' }}</span
          >
        </p>
        <p class="faint">Because {{ c.evidence.join('; ') }}.</p>
        <ul>
          <li v-for="check in c.checks" :key="check">{{ check }}</li>
        </ul>
      </li>
    </ol>
  </section>
</template>

<style scoped>
.causes {
  border: 1px solid var(--blocker);
  padding: 4px 16px 8px;
  margin-bottom: 16px;
}
h2 {
  margin-top: 6px;
}
ol {
  padding-left: 20px;
  margin: 0;
}
.text {
  margin: 4px 0;
  font-size: 15px;
}
p {
  margin: 2px 0;
}
ul {
  margin: 2px 0 8px;
  padding-left: 18px;
}
</style>
