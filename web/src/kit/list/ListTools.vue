<script setup lang="ts">
/** What a list offers beside its filters: kept views, the choice of columns, files. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, take, type Shapes } from '@/api/client'
import ExportLinks from './ExportLinks.vue'
import MenuFold from '@/kit/menu/MenuFold.vue'
import { complain, say } from '@/kit/act/notices'
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
const { data: views } = useQuery({
  queryKey,
  queryFn: () => take(api.GET('/api/views', { params: { query: { place: props.place } } })),
  staleTime: 60_000,
})
const menu = ref<InstanceType<typeof MenuFold>>()
const name = ref('')
const seen = computed(() =>
  props.columns.seen.value.map((column) => column.fields ?? column.key).join(','),
)

async function act(what: () => Promise<unknown>): Promise<void> {
  try {
    await what()
    await client.invalidateQueries({ queryKey })
  } catch (fault) {
    complain(fault)
  }
}
/** The address's filters without the page: a view starts at its first one. */
function query(): Record<string, string> {
  const entries = Object.entries(route.query).filter(([key, value]) => key !== 'page' && value)
  return Object.fromEntries(entries) as Record<string, string>
}
const keep = () =>
  act(async () => {
    await take(
      api.POST('/api/views', {
        body: {
          place: props.place,
          name: name.value,
          query: query(),
          columns: props.columns.chosen.value,
        },
      }),
    )
    say(`Kept as “${name.value.trim()}”.`)
    name.value = ''
    menu.value?.shut()
  })
function show(view: Shapes['ViewOut']): void {
  menu.value?.shut()
  props.columns.choose(view.columns)
  void router.replace({ query: view.query })
}
const letGo = (view: Shapes['ViewOut']) =>
  act(async () => {
    const { query: kept, columns, name: title } = view
    await take(api.DELETE('/api/views/{view_id}', { params: { path: { view_id: view.id } } }))
    say(`“${title}” is let go.`, () => {
      const body = { place: props.place, name: title, query: kept, columns }
      void act(() => take(api.POST('/api/views', { body })))
    })
  })
</script>

<template>
  <span class="tools">
    <MenuFold ref="menu" label="Views" stays>
      <ul v-if="views?.length">
        <li v-for="view in views" :key="view.id" class="view">
          <button @click="show(view)">{{ view.name }}</button>
          <button class="off" :aria-label="`Let ${view.name} go`" @click="letGo(view)">×</button>
        </li>
      </ul>
      <form class="keep" @submit.prevent="keep">
        <input
          v-model="name"
          class="input"
          maxlength="60"
          required
          aria-label="Keep what is seen as"
          placeholder="Keep what is seen as…"
        />
        <button class="btn small">Keep</button>
      </form>
    </MenuFold>
    <MenuFold label="Columns" stays>
      <ul>
        <li v-for="column in columns.all.value.filter((c) => !c.fixed)" :key="column.key">
          <label
            ><input
              type="checkbox"
              :checked="columns.seen.value.includes(column)"
              @change="columns.toggle(column.key)"
            />
            {{ column.label }}</label
          >
        </li>
        <li v-if="columns.chosen.value.length">
          <button @click="columns.choose([])">The usual ones</button>
        </li>
      </ul>
    </MenuFold>
    <ExportLinks :path="`/api/${place}`" :values="{ ...values, columns: seen }" />
  </span>
</template>

<style scoped>
.tools {
  display: flex;
  align-items: center;
  margin-left: auto;
}
.tools :deep(summary) {
  border-color: transparent;
  background: none;
}
.view {
  display: flex;
}
.view .off {
  width: 34px;
  text-align: center;
  color: var(--ink-2);
}
.keep {
  display: flex;
  gap: 6px;
  padding: 6px;
  width: 300px;
}
.keep .input {
  flex: 1;
}
</style>
