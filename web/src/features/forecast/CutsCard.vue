<script setup lang="ts">
/** The open deals by what they are about, by customer or by confidence; every figure opens its deals. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, take, type Shapes } from '@/api/client'
import { figure } from '@/kit/format/format'
import SegmentFilter from '@/kit/list/SegmentFilter.vue'
import LoadState from '@/kit/show/LoadState.vue'
import { confidenceName } from '@/parts/deal/confidence'
import { t } from '@/words'
import { asked, type Whose } from './whose'

type Cell = Shapes['CellOut']
const props = defineProps<{ values: Whose; deals: (filter: Record<string, string>) => string }>()
const by = ref<'goods' | 'customer' | 'confidence'>('goods')
const group = ref('')
const ways = (['goods', 'customer', 'confidence'] as const).map((value) => ({
  value,
  label: t(`forecast.cuts.${value}`),
}))
const { data, error, refetch, isPlaceholderData } = useQuery({
  queryKey: computed(() => ['forecast', 'cuts', props.values, by.value, group.value]),
  queryFn: ({ signal }) => {
    const query = { ...asked(props.values), by: by.value, group: group.value }
    return take(api.GET('/api/forecast/cuts', { params: { query }, signal }))
  },
  placeholderData: (before) => before,
})
function nameOf(cell: Cell): string {
  if (by.value === 'confidence') return confidenceName(cell.key as 'sure')
  return cell.name || t('forecast.cuts.unsaid')
}
const keyOf = (cell: Cell) => cell.key || 'none'
const to = ({ key }: Cell) =>
  props.deals(by.value === 'customer' ? { customer: key } : { confidence: key })
function turn(now: string): void {
  by.value = now as typeof by.value
  group.value = ''
}
const open = (cell: Cell) => (group.value = group.value === keyOf(cell) ? '' : keyOf(cell))
const most = computed(() =>
  Math.max(1, ...(data.value?.cells ?? []).map((c) => Number(c.weighted))),
)
const wide = (cell: Cell) => `${(100 * Math.max(0, Number(cell.weighted))) / most.value}%`
</script>

<template>
  <section
    class="card cuts"
    :class="{ stale: isPlaceholderData }"
    :aria-label="t('forecast.cuts.title')"
  >
    <header>
      <h2>{{ t('forecast.cuts.title') }}</h2>
      <SegmentFilter
        :model-value="by"
        :choices="ways"
        :label="t('forecast.cuts.by')"
        @update:model-value="turn"
      />
      <span class="soft">{{
        data ? t('forecast.cuts.hint', { currency: data.currency }) : ''
      }}</span>
    </header>
    <LoadState v-if="!data" :error="error" :rows="4" @again="refetch()" />
    <div v-else class="scroll">
      <table class="list">
        <thead>
          <tr>
            <th>{{ t(`forecast.cuts.${by}`) }}</th>
            <th class="picture" />
            <th class="num">{{ t('app.places.deals') }}</th>
            <th class="num">{{ t('deals.form.amount') }}</th>
            <th class="num">{{ t('deals.form.weighted') }}</th>
          </tr>
        </thead>
        <tbody v-for="cell in data.cells" :key="cell.key">
          <tr>
            <td>{{ nameOf(cell) }}</td>
            <td><i class="bar" :style="{ width: wide(cell) }" /></td>
            <td class="num">{{ cell.count }}</td>
            <td class="num">{{ figure(cell.amount) }}</td>
            <td class="num">
              <button
                v-if="by === 'goods'"
                class="link"
                :aria-expanded="group === keyOf(cell)"
                :aria-label="t('forecast.cuts.open', { name: nameOf(cell) })"
                @click="open(cell)"
              >
                {{ figure(cell.weighted) }}
              </button>
              <RouterLink v-else :to="to(cell)">{{ figure(cell.weighted) }}</RouterLink>
            </td>
          </tr>
          <template v-if="by === 'goods' && group === keyOf(cell)">
            <tr v-for="part in data.parts" :key="part.id" class="part">
              <td colspan="3">
                <RouterLink :to="`/deals/${part.id}`">{{ part.title }}</RouterLink>
                <span class="soft"> · {{ part.customer }}</span>
              </td>
              <td class="num">{{ figure(part.amount) }}</td>
              <td class="num">{{ figure(part.weighted) }}</td>
            </tr>
            <tr v-if="data.rest" class="part">
              <td colspan="3" class="soft">{{ t('forecast.cuts.others') }}</td>
              <td class="num">{{ figure(data.rest.amount) }}</td>
              <td class="num">{{ figure(data.rest.weighted) }}</td>
            </tr>
          </template>
        </tbody>
        <tbody v-if="data.others">
          <tr>
            <td class="soft">{{ t('forecast.cuts.others') }}</td>
            <td />
            <td class="num">{{ data.others.count }}</td>
            <td class="num">{{ figure(data.others.amount) }}</td>
            <td class="num">{{ figure(data.others.weighted) }}</td>
          </tr>
        </tbody>
      </table>
    </div>
  </section>
</template>

<style scoped>
.cuts {
  margin-top: 12px;
}
header {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
  align-items: center;
}
.picture {
  width: 26%;
}
.bar {
  display: block;
  height: 11px;
  background: var(--teal);
}
.link {
  min-height: 24px;
  padding: 0;
  border: 0;
  background: none;
  font: inherit;
  color: inherit;
  text-decoration: underline;
  text-underline-offset: 3px;
  cursor: pointer;
}
.part td {
  background: color-mix(in srgb, var(--teal) 6%, transparent);
}
.part td:first-child {
  padding-left: 22px;
}
.stale {
  opacity: 0.6;
}
</style>
