<script setup lang="ts">
/** What was done and what is to do: a line to write on, then the newest first. */
import { computed, defineAsyncComponent, nextTick, ref, useTemplateRef } from 'vue'
import { me } from '@/api/session'
import EmptyState from '@/kit/show/EmptyState.vue'
import { t } from '@/words'
import type { Document } from './activity'
import ActivityRow from './ActivityRow.vue'
import { useFollowUps, type Activity } from './useFollowUps'

/** Loaded after what is read. */
const ActivityForm = defineAsyncComponent(() => import('./ActivityForm.vue'))
const props = defineProps<{
  activities: Activity[]
  dealId?: number
  customerId?: number
  /** The document that it is noted at. */
  document?: { about: Document; record: number }
  /** What belongs here, where nothing is noted yet. */
  hint: string
  /** Only one's own follow-ups are settled here. */
  own?: boolean
}>()
const emit = defineEmits<{ changed: [] }>()
const about = computed(() => ({
  deal_id: props.dealId ?? null,
  customer_id: props.customerId ?? null,
  ...props.document,
}))
/** Counts up when something was done: the form asks for what comes next. */
const asked = ref(0)
const form = useTemplateRef<{ focus: () => Promise<void> }>('form')
const acts = useFollowUps((change) => {
  emit('changed')
  if (change.done === undefined) return
  asked.value = change.done ? asked.value + 1 : 0
  if (change.done) void nextTick(() => form.value?.focus())
})
const settles = (row: Activity) =>
  row.kind === 'follow_up' && !row.done_at && (!props.own || row.who_id === me.value?.id)
</script>

<template>
  <section class="card">
    <header>
      <h2>{{ t('diary.title') }}</h2>
      <RouterLink class="soft" to="/diary">{{ t('diary.page.open') }}</RouterLink>
    </header>
    <ActivityForm
      :key="asked"
      ref="form"
      :about="about"
      :next="asked > 0"
      @added="((asked = 0), emit('changed'))"
    />
    <EmptyState v-if="!activities.length" :title="t('diary.none')">{{ hint }}</EmptyState>
    <ol>
      <ActivityRow
        v-for="row in activities"
        :key="row.id"
        :row="row"
        :acts="acts"
        :settles="settles(row)"
        :here="document !== undefined"
      />
    </ol>
  </section>
</template>

<style scoped>
ol {
  container-type: inline-size;
}
</style>
