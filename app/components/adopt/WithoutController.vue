<script setup lang="ts">
/** What the site has and has not while nobody runs its controller, or nobody reaches it. */
import { withoutController } from '@mast/core/adoption'

const site = useSite()
const without = computed(() => withoutController(site.opened.model))
</script>

<template>
  <details v-if="without.stops.length" class="without">
    <summary>Without the controller</summary>
    <p class="faint">{{ without.when }}.</p>
    <div class="two">
      <div>
        <h3>Stops</h3>
        <ul>
          <li v-for="s in without.stops" :key="s">{{ s }}</li>
        </ul>
      </div>
      <div>
        <h3>Goes on</h3>
        <ul>
          <li v-for="s in without.goesOn" :key="s">{{ s }}</li>
        </ul>
      </div>
    </div>
  </details>
</template>

<style scoped>
.without {
  margin: 12px 0;
}
.two {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 40px;
}
.two > div {
  flex: 1 1 280px;
}
h3 {
  font-size: 14px;
  margin: 4px 0;
}
ul {
  margin: 0;
  padding-left: 18px;
}
</style>
