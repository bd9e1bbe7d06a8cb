<script setup lang="ts">
/** What else the item is called: the words that name it in mails. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'
import { api, take } from '@/api/client'
import { me } from '@/api/session'
import { useAct } from '@/kit/act/useAct'
import LoadState from '@/kit/show/LoadState.vue'
import { t } from '@/words'

const props = defineProps<{ item: number }>()
const client = useQueryClient()
const queryKey = ['item-words', props.item]
const params = { path: { item_id: props.item } }
const { data, error, refetch } = useQuery({
  queryKey,
  queryFn: ({ signal }) => take(api.GET('/api/items/{item_id}/words', { params, signal })),
})
const typed = ref('')
const { busy, run } = useAct()
const again = () => client.invalidateQueries({ queryKey })

function add(): void {
  const word = typed.value.trim()
  if (!word || busy.value) return
  void run(async () => {
    await take(api.POST('/api/items/{item_id}/words', { params, body: { word } }))
    typed.value = ''
    await again()
  })
}
function takeAway(id: number): void {
  void run(async () => {
    const path = { word_id: id }
    await take(api.DELETE('/api/item-words/{word_id}', { params: { path } }))
    await again()
  })
}
</script>

<template>
  <section class="card words" :aria-label="t('reading.words.title')">
    <h2>
      {{ t('reading.words.title') }} <span class="soft">{{ t('reading.words.note') }}</span>
    </h2>
    <LoadState v-if="!data" :error="error" @again="refetch()" />
    <p v-else class="list-of">
      <span v-for="each in data" :key="each.id" class="word">
        {{ each.word }} <span v-if="each.by" class="soft">{{ each.by }}</span>
        <ElButton
          v-if="each.mine"
          text
          size="small"
          :aria-label="t('reading.words.takeAway', { word: each.word })"
          @click="takeAway(each.id)"
          >×</ElButton
        >
      </span>
      <span v-if="!data.length" class="soft">{{ t('reading.words.none') }}</span>
    </p>
    <ElForm v-if="me?.sells" class="add" @submit.prevent="add">
      <ElInput v-model="typed" :aria-label="t('reading.words.label')" maxlength="120" />
      <ElButton native-type="submit" :loading="busy" :disabled="!typed.trim()">{{
        t('reading.words.add')
      }}</ElButton>
    </ElForm>
  </section>
</template>

<style scoped>
.words {
  margin-top: 14px;
}
.list-of {
  display: flex;
  align-items: baseline;
  flex-wrap: wrap;
  gap: 4px 16px;
}
.add {
  display: flex;
  gap: 8px;
  max-width: 420px;
}
</style>
