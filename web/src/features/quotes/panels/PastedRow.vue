<script setup lang="ts">
/** One pasted row: how it is read, its item, quantity and unit; each can be chosen otherwise. */
import { computed } from 'vue'
import type { Shapes } from '@/api/client'
import { figure } from '@/kit/format/format'
import { maybe, t } from '@/words'
import { asItIs, looked, readAs, withItem, type PastedRow } from './pastedRows'

const props = defineProps<{ row: PastedRow }>()
const emit = defineEmits<{ change: [row: PastedRow] }>()
type Reading = Omit<Shapes['ReadingOut'], 'why'>

function sentence(reading: Reading, why?: string): string {
  const price = reading.price ? t('desk.paste.at', { price: figure(reading.price) }) : ''
  const many = reading.quantity ? `${figure(reading.quantity)} × ` : ''
  const because = why ? ` (${maybe(`desk.paste.whys.${why}`) ?? why})` : ''
  return `${many}${reading.words}${price}${because}`
}
const readings = computed(() => [
  { value: -1, label: sentence(props.row.first) },
  ...props.row.others.map((other, place) => ({ value: place, label: sentence(other, other.why) })),
])
const doubts = computed(() =>
  props.row.doubts.map((each) => maybe(`desk.paste.doubts.${each}`) ?? each).join(' '),
)
const change = (row: PastedRow) => emit('change', row)
</script>

<template>
  <tr :class="{ doubt: row.doubts.length }">
    <td class="soft">{{ row.row }}</td>
    <td>
      <ElSelect
        v-if="row.others.length"
        class="reading"
        size="small"
        :aria-label="t('desk.paste.readingOf', { row: row.row })"
        :model-value="row.read"
        @update:model-value="(place: number) => change(readAs(row, place))"
      >
        <ElOption v-for="r in readings" :key="r.value" :value="r.value" :label="r.label" />
      </ElSelect>
      <template v-else>{{ row.words }}</template>
    </td>
    <td>
      <ElSelect
        v-if="row.candidates.length"
        class="item"
        size="small"
        :aria-label="t('desk.paste.itemOf', { row: row.row })"
        :placeholder="t('desk.paste.choose')"
        :model-value="row.item?.id"
        @update:model-value="(id: number) => change(withItem(row, id))"
      >
        <ElOption
          v-for="c in row.candidates"
          :key="c.id"
          :value="c.id"
          :label="`${c.code} ${c.name}`"
        />
      </ElSelect>
      <template v-else>{{
        row.item ? `${row.item.code} ${row.item.name}` : t('desk.paste.noItem')
      }}</template>
      <small v-if="row.agreement" class="soft agreement">{{
        t('desk.paste.agreement', { number: row.agreement })
      }}</small>
    </td>
    <td class="num">
      <ElInput
        class="quantity figure"
        size="small"
        :aria-label="t('desk.paste.quantityOf', { row: row.row })"
        :model-value="row.quantity"
        @update:model-value="(quantity: string) => change({ ...looked(row, 'quantity'), quantity })"
      />
    </td>
    <td>
      <ElSelect
        v-if="row.item"
        class="unit"
        size="small"
        :aria-label="t('desk.paste.unitOf', { row: row.row })"
        :model-value="row.unit"
        @update:model-value="(unit: string) => change({ ...looked(row, 'unit'), unit })"
      >
        <ElOption v-for="u in row.item.units" :key="u.code" :value="u.code" :label="u.name" />
      </ElSelect>
    </td>
    <td class="num">{{ row.price ? figure(row.price) : t('desk.paste.byRules') }}</td>
    <td>
      <span class="late">{{ doubts }}</span>
      <ElButton
        v-if="row.doubts.length && !row.doubts.includes('item')"
        class="as-it-is"
        size="small"
        @click="change(asItIs(row))"
        >{{ t('desk.paste.asItIs') }}</ElButton
      >
    </td>
  </tr>
</template>

<style scoped>
.agreement {
  display: block;
}
.as-it-is {
  margin-left: 8px;
}
.doubt td {
  background: var(--amber-soft);
}
.quantity {
  width: 90px;
}
.item {
  width: 240px;
}
.unit {
  width: 110px;
}
.reading {
  width: 260px;
}
</style>
