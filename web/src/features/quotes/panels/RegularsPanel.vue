<script setup lang="ts">
/** What the customer usually buys, over the desk: quantities typed here become lines of the quote. */
import { computed, nextTick, ref, useTemplateRef, watch } from 'vue'
import ListPages from '@/kit/list/ListPages.vue'
import LoadState from '@/kit/show/LoadState.vue'
import StepPanel from '@/kit/step/StepPanel.vue'
import { newLine, type DeskLine } from '@/parts/line/line'
import { useAround, useRegulars, type Asked, type Row } from '@/parts/regulars/queries'
import RegularsFilters from '@/parts/regulars/RegularsFilters.vue'
import RegularsTable from '@/parts/regulars/RegularsTable.vue'
import { useTyped, type Texts } from '@/parts/regulars/typed'
import { useKeys } from '@/kit/keys/useKeys'
import { t, tn } from '@/words'

const props = defineProps<{ customer: number; margin: boolean }>()
const emit = defineEmits<{ insert: [rows: DeskLine[]]; close: [] }>()
const asked = ref<Asked>({ show: 'bought', months: 24, words: '', page: 1 })
const page = computed({
  get: () => String(asked.value.page),
  set: (now) => (asked.value = { ...asked.value, page: Number(now) }),
})
const { data, error, refetch, isPlaceholderData } = useRegulars(props.customer, asked)
const { data: around } = useAround(props.customer)
const texts = ref<Texts>({})
const depot = ref<number | null>(null)
const typed = useTyped(texts, () => depot.value)
const { lines, unread } = typed
/** The items of the rows in which something was typed, whatever page is shown now. */
const items = new Map<number, Row['item']>()
function type(row: Row, text: string): void {
  items.set(row.item.id, row.item)
  typed.type(row, text)
}
function insert(): void {
  if (!lines.value.length || unread.value.length) return
  const rows = lines.value.flatMap(({ item_id, quantity, unit, depot_id }) => {
    const item = items.get(item_id)
    return item
      ? [{ ...newLine(item), quantity: String(quantity), unit, depot_id: depot_id ?? null }]
      : []
  })
  emit('insert', rows)
}
useKeys(() => ({
  title: t('regulars.keys.title'),
  keys: [
    { keys: '=', does: t('regulars.keys.last') },
    { keys: 'Alt ↓', does: t('regulars.keys.past') },
    { keys: 'Ctrl Enter', does: t('regulars.keys.put'), act: insert, whileTyping: true },
  ],
}))
const table = useTemplateRef('table')
watch(
  () => data.value !== undefined,
  (there) => there && void nextTick(() => table.value?.start()),
  { immediate: true },
)
</script>

<template>
  <StepPanel :title="t('desk.regulars.title')" @close="emit('close')" @go="insert">
    <div class="whole">
      <LoadState v-if="!data" :error="error" @again="refetch()" />
      <template v-else>
        <RegularsFilters v-model="asked" v-model:depot="depot" :sheet="data" :around="around" />
        <p v-if="!data.rows.length" class="soft">
          {{ t(asked.show === 'due' ? 'regulars.noneDue' : 'regulars.noneBought') }}
        </p>
        <RegularsTable
          v-else
          ref="table"
          class="table"
          :sheet="data"
          :customer="customer"
          :margin="margin"
          :text="typed.textOf"
          :reason="typed.reasonOf"
          :stale="isPlaceholderData"
          :depot="depot"
          :lines="lines"
          @type="type"
        />
        <ListPages v-if="data.pages > 1" v-model="page" :pages="data.pages" />
      </template>
    </div>
    <ElButton type="primary" native-type="submit" :disabled="!lines.length || unread.length > 0">{{
      tn('regulars.insert', lines.length)
    }}</ElButton>
    <span class="soft">{{
      unread.length
        ? t('regulars.unreadHint', { items: unread.join(', ') })
        : t('regulars.panelHint')
    }}</span>
  </StepPanel>
</template>

<style scoped>
.whole {
  flex-basis: 100%;
  min-width: 0;
}
.table {
  max-height: 48vh;
  overflow: auto;
}
</style>
