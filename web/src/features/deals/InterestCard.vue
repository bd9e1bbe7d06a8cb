<script setup lang="ts">
/** What a deal may come to before there is a quote: items and quantities, priced by the house's rules. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, take, type Shapes } from '@/api/client'
import { me } from '@/api/session'
import { say } from '@/kit/act/notices'
import { useAct } from '@/kit/act/useAct'
import ChoiceField from '@/kit/form/ChoiceField.vue'
import TextField from '@/kit/form/TextField.vue'
import { day, figure } from '@/kit/format/format'
import ItemPick from '@/parts/item/ItemPick.vue'
import { readQuantity } from '@/parts/line/numbers'
import { t } from '@/words'
import { dealKey, staleByDeal, type Deal } from './queries'

type Row = Pick<Shapes['InterestOut'], 'item_id' | 'quantity' | 'unit'>
const props = defineProps<{ deal: Deal }>()
const client = useQueryClient()
const rows = computed(() => props.deal.interest)
const item = ref<number | null>(null)
const quantity = ref('1')
const unit = ref<string | null>(null)
const { data: items } = useQuery({
  queryKey: computed(() => ['items', 'one', item.value]),
  queryFn: ({ signal }) =>
    take(api.GET('/api/items', { params: { query: { id: item.value ?? 0 } }, signal })),
  enabled: computed(() => item.value !== null),
})
const units = computed(() =>
  (items.value?.[0]?.units ?? []).map((each) => ({ value: each.code, label: each.name })),
)
const chosenUnit = computed(() => {
  const there = units.value.some(({ value }) => value === unit.value)
  return there ? unit.value : (items.value?.[0]?.sales_unit ?? null)
})
const { busy, run } = useAct()
const put = (now: Row[]) =>
  run(async () => {
    const body = {
      version: props.deal.version,
      rows: now.map((row) => ({ item_id: row.item_id, quantity: row.quantity, unit: row.unit })),
    }
    const path = { deal_id: props.deal.id }
    const told = await take(api.PUT('/api/deals/{deal_id}/interest', { params: { path }, body }))
    client.setQueryData(dealKey(props.deal.id), told)
    staleByDeal(client)
    if (now.length) say(t('deals.interest.kept', { amount: figure(told.estimate) }))
    return true
  })
async function add(): Promise<void> {
  if (item.value === null || !chosenUnit.value) return
  const more = { item_id: item.value, quantity: quantity.value, unit: chosenUnit.value }
  if (!(await put([...rows.value, more]))) return
  item.value = null
  quantity.value = '1'
  unit.value = null
}
const without = (n: number) => put(rows.value.filter((_, at) => at !== n))
const changed = (n: number, now: string) =>
  put(rows.value.map((row, at) => (at === n ? { ...row, quantity: now } : row)))
</script>

<template>
  <section class="interest" :aria-label="t('deals.interest.title')">
    <header>
      <h3>{{ t('deals.interest.title') }}</h3>
      <span class="soft">{{ t('deals.interest.hint') }}</span>
    </header>
    <table v-if="rows.length" class="list">
      <thead>
        <tr>
          <th>{{ t('deals.interest.item') }}</th>
          <th class="num">{{ t('deals.interest.quantity') }}</th>
          <th>{{ t('deals.interest.unit') }}</th>
          <th class="num">
            {{ t('deals.interest.net', { currency: me?.base_currency ?? '' }) }}
          </th>
          <th />
        </tr>
      </thead>
      <tbody>
        <tr v-for="(row, n) in rows" :key="`${n}-${row.item_id}`">
          <td>{{ row.code }} {{ row.name }}</td>
          <td class="num">
            <TextField
              bare
              figure
              class="quantity"
              :text="figure(row.quantity)"
              :label="`${t('deals.interest.quantity')}, ${row.code}`"
              :read="readQuantity"
              @change="(now) => changed(n, now)"
            />
          </td>
          <td class="soft">{{ row.unit_name }}</td>
          <td class="num" :title="t('deals.interest.pricedOn', { day: day(row.priced_on) })">
            {{ figure(row.net) }}
          </td>
          <td class="num">
            <ElButton
              text
              size="small"
              :aria-label="t('deals.interest.out', { item: row.code })"
              @click="without(n)"
              >×</ElButton
            >
          </td>
        </tr>
      </tbody>
    </table>
    <p v-else class="soft">{{ t('deals.interest.none') }}</p>
    <ElForm class="more" label-position="top" @submit.prevent="add">
      <ItemPick v-model="item" class="item" />
      <TextField
        figure
        class="quantity"
        :text="figure(quantity)"
        :label="t('deals.interest.quantity')"
        :read="readQuantity"
        @change="(now) => (quantity = now)"
      />
      <ChoiceField
        class="unit"
        :model-value="chosenUnit"
        :choices="units"
        :label="t('deals.interest.unit')"
        @update:model-value="(now) => (unit = now ?? null)"
      />
      <ElButton native-type="submit" :loading="busy" :disabled="item === null">{{
        t('deals.interest.add')
      }}</ElButton>
      <ElButton v-if="rows.length" text :loading="busy" @click="put(rows)">{{
        t('deals.interest.again')
      }}</ElButton>
    </ElForm>
  </section>
</template>

<style scoped>
.interest {
  margin-top: 16px;
  padding-top: 10px;
  border-top: 1px solid var(--rule);
}
header {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 12px;
  align-items: baseline;
}
td :deep(.el-form-item) {
  margin: 0;
}
.quantity {
  width: 100px;
  margin-left: auto;
}
.more {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 10px;
  align-items: flex-end;
  margin-top: 8px;
}
.more .item {
  flex: 1;
  min-width: 200px;
}
.more .quantity {
  margin-left: 0;
}
.unit {
  width: 120px;
}
</style>
