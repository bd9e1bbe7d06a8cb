<script setup lang="ts">
/** Charges on the whole: a name, an amount or a percent, and the tax on it. */
import { computed } from 'vue'
import type { Fault } from '@/api/fault'
import ChoiceField from '@/kit/form/ChoiceField.vue'
import TextField from '@/kit/form/TextField.vue'
import { figure } from '@/kit/format/format'
import { readAmount, readPercent, type Got } from '@/parts/line/numbers'
import { t } from '@/words'
import type { DeskCharge } from '@/features/quotes/desk/draftShape'

const props = defineProps<{
  charges: DeskCharge[]
  currency: string
  digits: number
  categories: Record<string, string>
  fault: Fault | null
}>()
const emit = defineEmits<{ change: [charges: DeskCharge[]] }>()
type Figure = Pick<DeskCharge, 'percent' | 'amount'>

const taxes = computed(() =>
  Object.entries(props.categories).map(([value, label]) => ({ value, label })),
)
function read(text: string): Got<Figure> {
  if (text.includes('%')) {
    const got = readPercent(text)
    return 'value' in got ? { value: { percent: got.value ?? '0', amount: null } } : got
  }
  const got = readAmount(text, props.currency, props.digits)
  return 'value' in got ? { value: { percent: null, amount: got.value } } : got
}
const shown = (charge: DeskCharge) =>
  charge.percent ? `${figure(charge.percent)} %` : figure(charge.amount)
function put(n: number, change: Partial<DeskCharge>): void {
  emit(
    'change',
    props.charges.map((row, m) => (m === n ? { ...row, ...change } : row)),
  )
}
const takeAway = (n: number) =>
  emit(
    'change',
    props.charges.filter((_, m) => m !== n),
  )
const faultAt = (n: number) =>
  props.fault?.path.startsWith(`charges.${n}`) ? props.fault.message : ''
</script>

<template>
  <div v-for="(charge, n) in charges" :key="n" class="charge">
    <TextField
      :text="charge.name"
      :label="t('terms.charge')"
      bare
      :maxlength="60"
      @change="(name) => put(n, { name: name.trim() || charge.name })"
    />
    <TextField
      class="amount"
      :text="shown(charge)"
      :label="t('terms.chargeFigure')"
      bare
      figure
      :read="read"
      :error="faultAt(n)"
      @change="(value) => put(n, value)"
    />
    <ChoiceField
      class="tax"
      :model-value="charge.tax_category"
      :choices="taxes"
      :label="t('terms.chargeTax')"
      bare
      @update:model-value="(tax) => tax && put(n, { tax_category: tax })"
    />
    <ElButton
      text
      size="small"
      :aria-label="t('terms.takeAwayCharge', { name: charge.name })"
      @click="takeAway(n)"
      >{{ t('terms.takeAway') }}</ElButton
    >
  </div>
</template>

<style scoped>
.charge {
  display: flex;
  gap: 6px;
  align-items: flex-start;
}
.amount {
  width: 110px;
}
.tax {
  width: 150px;
}
</style>
