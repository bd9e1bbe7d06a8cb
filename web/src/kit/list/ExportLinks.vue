<script setup lang="ts">
/** What is seen, as a file. */
import { computed } from 'vue'

const props = defineProps<{ path: string; values: Record<string, string> }>()
const query = computed(() => {
  const given = Object.entries(props.values).filter(([key, value]) => value && key !== 'page')
  // An emptied filter must not fall back to the list's default.
  if ('state' in props.values && !props.values.state) given.push(['state', ''])
  return new URLSearchParams(given).toString()
})
</script>

<template>
  <span class="export">
    <a class="btn quiet small" :href="`${path}.xlsx?${query}`" download>XLSX</a>
    <a class="btn quiet small" :href="`${path}.csv?${query}`" download>CSV</a>
  </span>
</template>

<style scoped>
.export {
  margin-left: auto;
}
.export .btn {
  border-color: transparent;
  background: none;
}
</style>
