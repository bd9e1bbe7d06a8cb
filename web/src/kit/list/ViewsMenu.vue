<script setup lang="ts">
/** Kept views of a list: the address's filters, and the columns where it has any. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { ref, useTemplateRef } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, take, type Shapes } from '@/api/client'
import { say } from '@/kit/act/notices'
import { useAct } from '@/kit/act/useAct'
import Popup from '@/kit/menu/Popup.vue'
import { t } from '@/words'
import type { Columns } from './useColumns'

const props = defineProps<{ place: Shapes['ViewIn']['place']; columns?: Columns }>()
const route = useRoute()
const router = useRouter()
const client = useQueryClient()
const queryKey = ['views', props.place]
const { data: views, error } = useQuery({
  queryKey,
  queryFn: () => take(api.GET('/api/views', { params: { query: { place: props.place } } })),
  staleTime: 60_000,
})
const menu = useTemplateRef('menu')
const name = ref('')
const { busy, run } = useAct()
/** The address's filters without the page: a view starts at its first one. */
function query(): Record<string, string> {
  const entries = Object.entries(route.query).filter(([key, value]) => key !== 'page' && value)
  return Object.fromEntries(entries) as Record<string, string>
}
const again = () => client.invalidateQueries({ queryKey })
const post = (view: { name: string; query: Record<string, string>; columns: string[] }) =>
  take(api.POST('/api/views', { body: { place: props.place, ...view } }))

const keep = () =>
  run(async () => {
    const title = name.value.trim()
    if (!title) return
    await post({ name: title, query: query(), columns: props.columns?.chosen.value ?? [] })
    await again()
    say(t('list.views.kept', { name: title }))
    name.value = ''
    menu.value?.shut()
  })
function show(view: Shapes['ViewOut']): void {
  menu.value?.shut()
  props.columns?.choose(view.columns)
  void router.replace({ query: view.query })
}
const letGo = (view: Shapes['ViewOut']) =>
  run(async () => {
    await take(api.DELETE('/api/views/{view_id}', { params: { path: { view_id: view.id } } }))
    await again()
    say(t('list.views.gone', { name: view.name }), () => {
      const { name: title, query: kept, columns } = view
      void run(async () => {
        await post({ name: title, query: kept, columns })
        await again()
      })
    })
  })
</script>

<template>
  <Popup ref="menu" :label="t('list.views.label')" small>
    <p v-if="error" class="fault">{{ error.message }}</p>
    <ul v-if="views?.length" class="views">
      <li v-for="view in views" :key="view.id">
        <ElButton text @click="show(view)">{{ view.name }}</ElButton>
        <ElButton
          text
          size="small"
          :aria-label="t('list.views.letGo', { name: view.name })"
          @click="letGo(view)"
          >×</ElButton
        >
      </li>
    </ul>
    <ElForm class="keep" @submit.prevent="keep">
      <ElInput
        v-model="name"
        maxlength="60"
        :aria-label="t('list.views.keepAs')"
        :placeholder="`${t('list.views.keepAs')}…`"
      />
      <ElButton native-type="submit" :loading="busy" :disabled="!name.trim()">{{
        t('list.views.keep')
      }}</ElButton>
    </ElForm>
  </Popup>
</template>

<style scoped>
.views li {
  display: flex;
  justify-content: space-between;
}
.keep {
  display: flex;
  gap: 6px;
  width: 300px;
}
</style>
