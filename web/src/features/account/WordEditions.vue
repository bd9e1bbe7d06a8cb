<script setup lang="ts">
/** The editions of a mail's words, the newest first, and the way back to each. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, take, type Shapes } from '@/api/client'
import { moment } from '@/kit/format/format'
import { t } from '@/words'

type Given = Pick<Shapes['WordingIn'], 'kind' | 'language'>
const props = defineProps<Given & { busy: boolean }>()
const emit = defineEmits<{ back: [words: { subject: string; body: string }] }>()
const { data } = useQuery({
  queryKey: computed(() => ['mail-words', props.kind, props.language, 'editions']),
  queryFn: ({ signal }) => {
    const query = { kind: props.kind, language: props.language }
    return take(api.GET('/api/mail-words/editions', { params: { query }, signal }))
  },
})
</script>

<template>
  <details v-if="data?.length" class="editions">
    <summary>{{ t('account.mail.editions') }}</summary>
    <ol>
      <li v-for="(each, n) in data" :key="each.id">
        <b>{{
          each.body ? each.subject || t('account.mail.noSubject') : t('account.mail.none')
        }}</b>
        <span class="soft">{{ moment(each.at) }}, {{ each.by }}</span>
        <span v-if="n === 0" class="soft">{{ t('papers.editions.now') }}</span>
        <ElButton
          v-else-if="each.body"
          size="small"
          :disabled="busy"
          :aria-label="t('account.mail.backTo', { at: moment(each.at) })"
          @click="emit('back', each)"
          >{{ t('papers.editions.back') }}</ElButton
        >
        <pre v-if="each.body">{{ each.body }}</pre>
      </li>
    </ol>
  </details>
</template>

<style scoped>
.editions {
  margin-top: 14px;
}
li {
  display: grid;
  grid-template-columns: 1fr auto auto;
  gap: 4px 12px;
  align-items: baseline;
  padding: 5px 0;
  border-bottom: 1px solid var(--rule);
}
pre {
  grid-column: 1 / -1;
  margin: 0;
  max-height: 90px;
  overflow: auto;
  font: inherit;
  font-size: 13px;
  white-space: pre-wrap;
  color: var(--ink-2);
}
</style>
