<script setup lang="ts">
/** Pages of a list, where there is more than one. */
import { useMediaQuery } from '@vueuse/core'
import { computed } from 'vue'
import { t } from '@/words'

const page = defineModel<string>({ required: true })
defineProps<{ pages: number }>()
const small = useMediaQuery('(max-width: 820px)')
const at = computed({
  get: () => Number(page.value) || 1,
  set: (n: number) => (page.value = String(n)),
})
</script>

<template>
  <nav v-if="pages > 1" :aria-label="t('list.pages')">
    <ElPagination
      v-model:current-page="at"
      layout="prev, pager, next"
      :page-count="pages"
      :pager-count="small ? 5 : 7"
      :prev-text="t('list.before')"
      :next-text="t('list.after')"
    />
  </nav>
</template>
