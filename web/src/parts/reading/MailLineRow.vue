<script setup lang="ts">
/** A line of a mail: its sentence, and what it becomes; each part can be chosen otherwise. */
import { computed, ref } from 'vue'
import { api, take } from '@/api/client'
import { complain } from '@/kit/act/notices'
import { figure } from '@/kit/format/format'
import ItemPick from '@/parts/item/ItemPick.vue'
import { maybe, t } from '@/words'
import {
  around,
  otherReadings,
  withItem,
  withQuantity,
  withTaken,
  withUnit,
  type MailLine,
} from './mailLines'

const props = defineProps<{ line: MailLine }>()
const emit = defineEmits<{ change: [line: MailLine] }>()
const ANOTHER = -1
const searching = ref(false)
const said = computed(() => around(props.line.sentence, props.line.words))
const doubts = computed(() =>
  props.line.doubts.map((each) => maybe(`reading.doubts.${each}`) ?? each).join(' '),
)
const likely = computed(() => {
  const rows = props.line.meant.map(({ item, share }) => ({ item, share }))
  const { item } = props.line
  if (item && !rows.some((row) => row.item.id === item.id)) rows.push({ item, share: 0 })
  return rows
})
const change = (line: MailLine) => emit('change', line)

function choose(id: number): void {
  searching.value = id === ANOTHER
  const row = likely.value.find((each) => each.item.id === id)
  if (row) change(withItem(props.line, row.item))
}
async function found(id: number | null): Promise<void> {
  if (!id) return
  try {
    const [item] = await take(api.GET('/api/items', { params: { query: { id } } }))
    if (item) change(withItem(props.line, item))
    searching.value = false
  } catch (fault) {
    complain(fault)
  }
}
</script>

<template>
  <tr :class="{ doubt: line.doubts.length }">
    <td>
      <ElCheckbox
        :model-value="line.taken"
        :aria-label="t('reading.take', { words: line.words })"
        @update:model-value="(on) => change(withTaken(line, Boolean(on)))"
      />
    </td>
    <td class="num">
      <ElInput
        class="quantity figure"
        size="small"
        :aria-label="t('reading.quantityOf', { words: line.words })"
        :model-value="line.quantity"
        @update:model-value="(quantity: string) => change(withQuantity(line, quantity))"
      />
      <ElButton
        v-for="other in otherReadings(line)"
        :key="other"
        class="other"
        size="small"
        text
        :aria-label="t('reading.meansOther', { quantity: figure(other), words: line.words })"
        @click="change(withQuantity(line, other))"
        >{{ t('reading.orOther', { quantity: figure(other) }) }}</ElButton
      >
    </td>
    <td>
      <ElSelect
        v-if="line.item"
        class="unit"
        size="small"
        :aria-label="t('reading.unitOf', { words: line.words })"
        :model-value="line.unit"
        @update:model-value="(unit: string) => change(withUnit(line, unit))"
      >
        <ElOption v-for="u in line.item.units" :key="u.code" :value="u.code" :label="u.name" />
      </ElSelect>
    </td>
    <td>
      <ItemPick v-if="searching" :model-value="null" @update:model-value="found" />
      <ElSelect
        v-else
        class="item"
        size="small"
        :aria-label="t('reading.itemOf', { words: line.words })"
        :model-value="line.item?.id"
        @update:model-value="choose"
      >
        <ElOption
          v-for="each in likely"
          :key="each.item.id"
          :value="each.item.id"
          :label="`${each.item.code} ${each.item.name}`"
        >
          {{ each.item.code }} {{ each.item.name }}
          <span v-if="each.share" class="soft">{{
            t('reading.share', { share: each.share })
          }}</span>
        </ElOption>
        <ElOption :value="ANOTHER" :label="t('reading.another')" />
      </ElSelect>
      <ElCheckbox
        v-if="line.corrected"
        class="keep"
        size="small"
        :model-value="line.keep"
        @update:model-value="(on) => change({ ...line, keep: Boolean(on) })"
        >{{ t('reading.keep', { words: line.words }) }}</ElCheckbox
      >
      <small v-if="line.agreement" class="soft agreement">{{
        t('reading.agreement', { number: line.agreement })
      }}</small>
    </td>
    <td class="said">
      {{ said[0] }}<mark>{{ said[1] }}</mark
      >{{ said[2] }}
    </td>
    <td class="late open">{{ doubts }}</td>
  </tr>
</template>

<style scoped>
.doubt td {
  background: var(--amber-soft);
}
.quantity {
  width: 84px;
}
.other {
  display: block;
  margin: 2px 0 0 auto;
}
.unit {
  width: 104px;
}
.item {
  width: 270px;
}
.keep,
.agreement {
  display: block;
}
td.open {
  white-space: nowrap;
}
.said {
  min-width: 220px;
}
.said mark {
  background: none;
  color: inherit;
  font-weight: 600;
  text-decoration: underline;
  text-underline-offset: 3px;
}
</style>
