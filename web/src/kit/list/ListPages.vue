<script setup lang="ts">
/** Pages of a list, where there is more than one. */
const page = defineModel<string>({ required: true })
defineProps<{ pages: number }>()
</script>

<template>
  <nav v-if="pages > 1" class="pages" aria-label="Pages">
    <button
      class="btn small"
      :disabled="Number(page) <= 1"
      @click="page = String(Number(page) - 1)"
    >
      Earlier page
    </button>
    <span class="soft">{{ page }} of {{ pages }}</span>
    <button
      class="btn small"
      :disabled="Number(page) >= pages"
      @click="page = String(Number(page) + 1)"
    >
      Next page
    </button>
  </nav>
</template>

<style scoped>
.pages {
  display: flex;
  gap: 12px;
  justify-content: center;
  align-items: center;
  padding-top: 10px;
}
</style>
