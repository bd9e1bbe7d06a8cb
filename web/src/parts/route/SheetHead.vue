<script setup lang="ts">
/** A sheet's head: what this is in one line, and its Route. */
import type { Shapes } from '@/api/client'
import { t } from '@/words'
import RouteLine from './RouteLine.vue'

defineProps<{
  title: string
  stops?: Shapes['RouteStop'][]
  /** Where the whole Route is drawn. */
  whole?: string
}>()
</script>

<template>
  <header class="head">
    <div class="line">
      <h1>{{ title }}</h1>
      <p class="soft what"><slot /></p>
      <div class="side">
        <slot name="side" />
        <RouterLink v-if="whole" class="soft" :to="whole">{{ t('route.whole') }}</RouterLink>
      </div>
    </div>
    <RouteLine v-if="stops?.length" :stops="stops" />
  </header>
</template>

<style scoped>
.line {
  display: flex;
  align-items: baseline;
  gap: 6px 14px;
  flex-wrap: wrap;
  min-height: 32px;
  margin-bottom: 8px;
}
.what {
  flex: 1;
  min-width: 200px;
}
.side {
  display: flex;
  gap: 8px;
  align-items: center;
  flex-wrap: wrap;
}
</style>
