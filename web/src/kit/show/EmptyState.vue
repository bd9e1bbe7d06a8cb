<script setup lang="ts">
/** An empty place: what belongs here, and the first step. */
defineProps<{ title: string }>()
</script>

<template>
  <div class="empty">
    <svg width="120" height="20" viewBox="0 0 120 20" aria-hidden="true">
      <path d="M6 10h108" stroke="var(--stop-ahead)" stroke-width="3" stroke-dasharray="3 6" />
      <circle
        cx="60"
        cy="10"
        r="6"
        fill="var(--sheet)"
        stroke="var(--stop-ahead)"
        stroke-width="3"
      />
    </svg>
    <p>
      <b>{{ title }}</b>
    </p>
    <p class="soft"><slot /></p>
  </div>
</template>

<style scoped>
.empty {
  padding: 22px 12px;
  text-align: center;
}
p {
  margin-top: 6px;
}
</style>
