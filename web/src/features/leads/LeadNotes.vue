<script setup lang="ts">
/** What was written on a lead, and who changed what. */
import { ref } from 'vue'
import { api, take } from '@/api/client'
import { useAct } from '@/kit/act/useAct'
import { moment } from '@/kit/format/format'
import EmptyState from '@/kit/show/EmptyState.vue'
import { t } from '@/words'
import type { Lead } from './queries'

const props = defineProps<{ lead: Lead }>()
const emit = defineEmits<{ noted: [lead: Lead] }>()
const text = ref('')
const { busy, run } = useAct()
const add = () =>
  run(async () => {
    if (!text.value.trim()) return
    const params = { path: { lead_id: props.lead.id } }
    const body = { text: text.value }
    const lead = await take(api.POST('/api/leads/{lead_id}/notes', { params, body }))
    text.value = ''
    emit('noted', lead)
  })
</script>

<template>
  <section class="card">
    <header>
      <h2>{{ t('leads.notes.title') }}</h2>
      <span v-if="lead.became" class="soft">{{ t('leads.notes.carried') }}</span>
    </header>
    <ElForm v-if="!lead.became" class="write" @submit.prevent="add">
      <ElInput
        v-model="text"
        maxlength="1000"
        :aria-label="t('leads.notes.new')"
        :placeholder="t('leads.notes.new')"
      />
      <ElButton native-type="submit" :loading="busy" :disabled="!text.trim()">{{
        t('diary.add')
      }}</ElButton>
    </ElForm>
    <EmptyState v-if="!lead.notes.length" :title="t('leads.notes.none')" />
    <ol>
      <li v-for="note in lead.notes" :key="note.at">
        <span class="said">{{ note.text }}</span>
        <small class="soft">{{ moment(note.at) }}, {{ note.who }}</small>
      </li>
    </ol>
  </section>
</template>

<style scoped>
.write {
  display: flex;
  gap: 8px;
  margin-bottom: 8px;
}
ol {
  margin: 0;
  padding: 0;
  list-style: none;
}
li {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 10px;
  padding: 6px 0;
  border-bottom: 1px solid var(--rule);
}
.said {
  white-space: pre-line;
}
small {
  font-size: 12px;
}
</style>
