<script setup lang="ts">
/** What a list offers beside its filters: kept views, the choice of columns, files. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, useTemplateRef } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, take, type Shapes } from '@/api/client'
import { say } from '@/kit/act/notices'
import { useAct } from '@/kit/act/useAct'
import Popup from '@/kit/menu/Popup.vue'
import { t } from '@/words'
import ExportLinks from './ExportLinks.vue'
import type { Columns } from './useColumns'

const props = defineProps<{
  place: Shapes['ViewIn']['place']
  values: Record<string, string>
  columns: Columns
}>()
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
const seen = computed(() =>
  props.columns.seen.value.map((column) => column.fields ?? column.key).join(','),
)
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
    await post({ name: title, query: query(), columns: props.columns.chosen.value })
    await again()
    say(t('list.views.kept', { name: title }))
    name.value = ''
    menu.value?.shut()
  })
function show(view: Shapes['ViewOut']): void {
  menu.value?.shut()
  props.columns.choose(view.columns)
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
  <span class="tools">
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
    <Popup :label="t('list.columns.label')" small>
      <ul>
        <li v-for="column in columns.all.value.filter((c) => !c.fixed)" :key="column.key">
          <ElCheckbox
            :model-value="columns.seen.value.includes(column)"
            @change="columns.toggle(column.key)"
            >{{ column.label }}</ElCheckbox
          >
        </li>
        <li v-if="columns.chosen.value.length">
          <ElButton size="small" @click="columns.choose([])">{{
            t('list.columns.usual')
          }}</ElButton>
        </li>
      </ul>
    </Popup>
    <ExportLinks :path="`/api/${place}`" :values="{ ...values, columns: seen }" />
  </span>
</template>

<style scoped>
.tools {
  display: flex;
  align-items: center;
  margin-left: auto;
}
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
