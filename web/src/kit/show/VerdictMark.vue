<script setup lang="ts">
/** A verdict's shape: a round tick, a diamond, an octagon. Meaning never rests on colour alone. */
defineProps<{ verdict: 'clear' | 'caution' | 'halt' | string; size?: number }>()
</script>

<template>
  <svg :width="size ?? 20" :height="size ?? 20" viewBox="0 0 24 24" aria-hidden="true">
    <template v-if="verdict === 'clear'">
      <circle cx="12" cy="12" r="10.5" fill="var(--teal)" />
      <path d="M7 12.5l3.4 3.4L17 9" fill="none" stroke="var(--sheet)" stroke-width="2.6" />
    </template>
    <template v-else-if="verdict === 'caution'">
      <path
        d="M12 1.2 22.8 12 12 22.8 1.2 12z"
        fill="var(--amber)"
        stroke="#12332B"
        stroke-width="1.2"
      />
      <path d="M12 6.5v7M12 15.6v2.4" stroke="#12332B" stroke-width="2.4" />
    </template>
    <template v-else-if="verdict === 'halt'">
      <path d="M7.5 1.5h9l6 6v9l-6 6h-9l-6-6v-9z" fill="var(--red)" />
      <path d="M6.5 12h11" stroke="var(--sheet)" stroke-width="3" />
    </template>
    <circle v-else cx="12" cy="12" r="9" fill="none" stroke="var(--stop-ahead)" stroke-width="3" />
  </svg>
</template>
