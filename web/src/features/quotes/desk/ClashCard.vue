<script setup lang="ts">
/** Somebody else changed the draft, or closed it: nothing of mine is lost, and I choose. */
import { computed } from 'vue'
import { complain, say } from '@/kit/act/notices'
import { t } from '@/words'
import type { QuoteState } from './draftShape'
import type { Desk } from './useDesk'
import type { QuoteActs } from './useQuoteActs'

const props = defineProps<{ desk: Desk; acts: QuoteActs }>()
const emit = defineEmits<{ again: [] }>()
const closed = computed(() => props.desk.fault.value?.code !== 'stale')

async function mine(): Promise<void> {
  try {
    if (!(await props.desk.saveMine()) && props.desk.saving.value === 'clash') {
      say(t('desk.clash.closed'))
    }
  } catch (fault) {
    complain(fault, () => void mine())
  }
}
async function theirs(): Promise<void> {
  try {
    await props.desk.takeTheirs()
    emit('again')
  } catch (fault) {
    complain(fault, () => void theirs())
  }
}
/** The lines as rows for a spreadsheet, or to be pasted into another quote. */
async function copy(state: QuoteState): Promise<void> {
  const rows = state.lines
    .filter((line) => line.item)
    .map((line) => [line.item?.code, line.quantity, line.price ?? ''].join('\t'))
  await navigator.clipboard.writeText(rows.join('\n'))
  say(t('desk.clash.copied'))
}
</script>

<template>
  <div v-if="desk.saving.value === 'clash'" class="card clash" role="alert">
    <p>
      <b>{{ closed ? desk.fault.value?.message : t('desk.clash.changed') }}</b>
      {{ t('desk.clash.nothingLost') }}
    </p>
    <ElButton @click="theirs">{{
      closed ? t('desk.clash.showIt') : t('desk.clash.showTheirs')
    }}</ElButton>
    <ElButton v-if="!closed" @click="mine">{{ t('desk.clash.saveMine') }}</ElButton>
  </div>
  <div v-else-if="desk.orphan.value" class="card clash" role="status">
    <p>{{ t('desk.clash.orphan') }}</p>
    <ElButton @click="copy(desk.orphan.value)">{{ t('desk.clash.copy') }}</ElButton>
    <ElButton text @click="desk.letOrphanGo">{{ t('desk.clash.letGo') }}</ElButton>
  </div>
</template>

<style scoped>
.clash {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 12px;
  align-items: center;
  margin-bottom: 8px;
  background: var(--amber-soft);
}
</style>
