<script setup lang="ts">
/** The open deals by what they are about, by customer or by confidence; every figure opens its deals. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, take, type Shapes } from '@/api/client'
import { me } from '@/api/session'
import { day, figure } from '@/kit/format/format'
import SegmentFilter from '@/kit/list/SegmentFilter.vue'
import LoadState from '@/kit/show/LoadState.vue'
import { confidenceName } from '@/parts/deal/confidence'
import { t } from '@/words'
import { asked, type Whose } from './whose'

type Cell = Shapes['CutCell']
const props = defineProps<{ values: Whose; deals: (filter: Record<string, string>) => string }>()
const WAYS = ['goods', 'customer', 'confidence', 'team'] as const
const SPANS = ['any', 'month', 'quarter', 'next'] as const
const by = ref<(typeof WAYS)[number]>('goods')
const span = ref<(typeof SPANS)[number]>('any')
const group = ref('')
const ways = computed(() =>
  WAYS.filter((each) => each !== 'team' || (me.value?.teams.length ?? 0) > 1).map((value) => ({
    value,
    label: t(`forecast.cuts.${value}`),
  })),
)
const spans = SPANS.map((value) => ({ value, label: t(`forecast.cuts.spans.${value}`) }))
const { data, error, refetch, isPlaceholderData } = useQuery({
  queryKey: computed(() => ['forecast', 'cuts', props.values, by.value, span.value, group.value]),
  queryFn: async ({ signal }) => {
    const within = span.value === 'any' ? '' : span.value
    const query = { ...asked(props.values), by: by.value, within, group: group.value } as const
    const told = await take(api.GET('/api/forecast/cuts', { params: { query }, signal }))
    return { ...told, by: query.by }
  },
  placeholderData: (before) => before,
})
/** What the rows are of: those of the cut before stay until the new ones are there. */
const of = computed(() => data.value?.by ?? by.value)
function nameOf(cell: Cell): string {
  if (of.value === 'confidence') return confidenceName(cell.key as 'sure')
  return cell.name || t(of.value === 'team' ? 'forecast.cuts.noTeam' : 'forecast.cuts.unsaid')
}
const aimed = computed(() => data.value?.cells.some((cell) => cell.target))
const keyOf = (cell: Cell) => cell.key || 'none'
const days = computed(() => (data.value?.first ? data.value : null))
/** The list of exactly the deals that a figure sums; nobody lists those of people without a team. */
function to({ key }: Cell, won = false): string {
  const cell = { customer: { customer: key }, confidence: { confidence: key }, team: { team: key } }
  const { first, last, open_since } = days.value ?? {}
  return props.deals({
    ...(of.value === 'goods' ? {} : cell[of.value]),
    state: won ? 'won' : '',
    since: (won ? first : open_since) ?? '',
    until: last ?? '',
  })
}
const listed = (cell: Cell) => of.value !== 'goods' && (of.value !== 'team' || cell.key)
function turn(now: string): void {
  by.value = now as typeof by.value
  group.value = ''
}
const open = (cell: Cell) => (group.value = group.value === keyOf(cell) ? '' : keyOf(cell))
/** How long a bar is: a picture, no figure. */
const all = (cell: Cell) => Number(cell.won ?? 0) + Number(cell.weighted)
const most = computed(() =>
  Math.max(1, ...(data.value?.cells ?? []).map((c) => Math.max(all(c), Number(c.target ?? 0)))),
)
/** A little is left for the sign at the end. */
const part = (amount: string | null) => `${(98 * Math.max(0, Number(amount))) / most.value}%`
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
      <SegmentFilter v-model="span" :choices="spans" :label="t('forecast.cuts.within')" />
      <span v-if="days" class="soft">{{
        t('forecast.cuts.hintWithin', {
          currency: days.currency,
          first: day(days.first),
          last: day(days.last),
        })
      }}</span>
      <span v-else-if="data" class="soft">{{
        t('forecast.cuts.hint', { currency: data.currency })
      }}</span>
    </header>
    <ul v-if="days" class="key" aria-hidden="true">
      <li><i class="won" />{{ t('forecast.cuts.won') }}</li>
      <li><i class="open" />{{ t('deals.form.weighted') }}</li>
      <li v-if="aimed"><i class="target" />{{ t('forecast.cuts.target') }}</li>
    </ul>
    <LoadState v-if="!data" :error="error" :rows="4" @again="refetch()" />
    <div v-else class="scroll">
      <table class="list">
        <thead>
          <tr>
            <th>{{ t(`forecast.cuts.${of}`) }}</th>
            <th class="picture" />
            <th class="num">{{ t('app.places.deals') }}</th>
            <th class="num">{{ t('deals.form.amount') }}</th>
            <th class="num">{{ t('deals.form.weighted') }}</th>
            <th v-if="days" class="num">{{ t('forecast.cuts.won') }}</th>
            <th v-if="days && aimed" class="num">{{ t('forecast.cuts.target') }}</th>
          </tr>
        </thead>
        <tbody v-for="cell in data.cells" :key="cell.key">
          <tr>
            <td>{{ nameOf(cell) }}</td>
            <td>
              <span class="bar">
                <i class="won" :style="{ width: part(cell.won) }" />
                <i class="open" :style="{ width: part(cell.weighted) }" />
                <i v-if="cell.target" class="target" :style="{ left: part(cell.target) }" />
              </span>
            </td>
            <td class="num">{{ cell.count }}</td>
            <td class="num">{{ figure(cell.amount) }}</td>
            <td class="num">
              <button
                v-if="of === 'goods'"
                class="link"
                :aria-expanded="group === keyOf(cell)"
                :aria-label="t('forecast.cuts.open', { name: nameOf(cell) })"
                @click="open(cell)"
              >
                {{ figure(cell.weighted) }}
              </button>
              <RouterLink v-else-if="listed(cell)" :to="to(cell)">{{
                figure(cell.weighted)
              }}</RouterLink>
              <template v-else>{{ figure(cell.weighted) }}</template>
            </td>
            <td v-if="days" class="num">
              <RouterLink v-if="listed(cell) && Number(cell.won)" :to="to(cell, true)">{{
                figure(cell.won)
              }}</RouterLink>
              <template v-else>{{ Number(cell.won) ? figure(cell.won) : '–' }}</template>
            </td>
            <td v-if="days && aimed" class="num">{{ cell.target ? figure(cell.target) : '–' }}</td>
          </tr>
          <template v-if="of === 'goods' && group === keyOf(cell)">
            <tr v-for="one in data.parts" :key="one.id" class="part">
              <td colspan="3">
                <RouterLink :to="`/deals/${one.id}`">{{ one.title }}</RouterLink>
                <span class="soft"> · {{ one.customer }}</span>
              </td>
              <td class="num">{{ one.won ? '' : figure(one.amount) }}</td>
              <td class="num">{{ one.won ? '' : figure(one.weighted) }}</td>
              <td v-if="days" class="num">{{ one.won ? figure(one.amount) : '' }}</td>
              <td v-if="days && aimed" />
            </tr>
            <tr v-if="data.rest" class="part">
              <td colspan="3" class="soft">{{ t('forecast.cuts.others') }}</td>
              <td class="num">{{ figure(data.rest.amount) }}</td>
              <td class="num">{{ figure(data.rest.weighted) }}</td>
              <td v-if="days" class="num">{{ figure(data.rest.won) }}</td>
              <td v-if="days && aimed" />
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
            <td v-if="days" class="num">{{ figure(data.others.won) }}</td>
            <td v-if="days && aimed" />
          </tr>
        </tbody>
      </table>
    </div>
  </section>
</template>

<style scoped src="./key.css" />

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
  position: relative;
  display: flex;
  height: 11px;
}
.key .won,
.bar .won {
  background: var(--ink);
}
.key .open,
.bar .open {
  background: var(--teal);
}
.bar .target {
  position: absolute;
  top: -1px;
  width: 13px;
  height: 13px;
  margin-left: -6px;
  border: 4px solid var(--coral);
  border-radius: 50%;
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
