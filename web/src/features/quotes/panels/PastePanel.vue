<script setup lang="ts">
/** Pasted rows: each matched; the doubtful ones are marked, wait for a choice and stay behind. */
import { computed, onMounted, ref } from 'vue'
import { api, take } from '@/api/client'
import { complain } from '@/kit/act/notices'
import StepPanel from '@/kit/step/StepPanel.vue'
import type { DeskLine } from '@/parts/line/line'
import { t, tn } from '@/words'
import PastedRow from './PastedRow.vue'
import { lineOf, pastedRow, ready, type PastedRow as Row } from './pastedRows'

const props = defineProps<{ text: string; at: number; customer: number }>()
const emit = defineEmits<{ insert: [rows: DeskLine[], at: number]; mail: []; close: [] }>()
const rows = ref<Row[]>([])
const looking = ref(true)
const good = computed(() => rows.value.filter(ready))

onMounted(look)
async function look(): Promise<void> {
  try {
    const body = { text: props.text, customer_id: props.customer }
    const found = await take(api.POST('/api/items/match', { body }))
    rows.value = found.map(pastedRow)
    looking.value = false
  } catch (fault) {
    complain(fault, () => void look())
  }
}
function change(row: Row): void {
  rows.value = rows.value.map((each) => (each.row === row.row ? row : each))
}
function insert(): void {
  if (good.value.length) emit('insert', good.value.map(lineOf), props.at)
}
</script>

<template>
  <StepPanel :title="t('desk.paste.title')" @close="emit('close')" @go="insert">
    <p v-if="looking" class="soft" aria-busy="true">{{ t('desk.paste.looking') }}</p>
    <div v-else class="rows">
      <table class="list">
        <thead>
          <tr>
            <th>{{ t('desk.paste.row') }}</th>
            <th>{{ t('desk.paste.pasted') }}</th>
            <th>{{ t('desk.grid.item') }}</th>
            <th class="num">{{ t('desk.grid.quantity') }}</th>
            <th>{{ t('desk.grid.unit') }}</th>
            <th class="num">{{ t('desk.grid.price') }}</th>
            <th>{{ t('desk.paste.toLookAt') }}</th>
          </tr>
        </thead>
        <tbody>
          <PastedRow v-for="row in rows" :key="row.row" :row="row" @change="change" />
        </tbody>
      </table>
      <p v-if="!rows.length" class="soft">{{ t('desk.paste.none') }}</p>
    </div>
    <ElButton type="primary" native-type="submit" :disabled="looking || !good.length">
      {{ tn('desk.paste.act', good.length) }}
    </ElButton>
    <ElButton @click="emit('mail')">{{ t('reading.asMail') }}</ElButton>
    <span v-if="rows.length > good.length" class="soft">{{
      tn('desk.paste.behind', rows.length - good.length)
    }}</span>
  </StepPanel>
</template>

<style scoped>
.rows {
  flex-basis: 100%;
  max-height: 46vh;
  overflow: auto;
}
</style>
