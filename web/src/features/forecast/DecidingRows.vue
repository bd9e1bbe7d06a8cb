<script setup lang="ts">
/** The deals that decide a month; in and out, and while one asks "what if", their day, chance and amount too. */
import { me } from '@/api/session'
import DayField from '@/kit/form/DayField.vue'
import TextField from '@/kit/form/TextField.vue'
import { day, figure, todayIso } from '@/kit/format/format'
import { readAmount, readPercent } from '@/parts/line/numbers'
import { t, tn } from '@/words'
import { swingOf } from './outlook'
import type { WhatIf } from './useWhatIf'
import type { DecidingDeal } from './whatIf'

const props = defineProps<{ deals: DecidingDeal[]; whatIf: WhatIf; typing: boolean }>()
const { thoughts } = props.whatIf
const of = (deal: DecidingDeal) => thoughts.value[deal.id] ?? {}
const isIn = (deal: DecidingDeal) => !of(deal).out
function from(deal: DecidingDeal): string {
  if (deal.own) return t('forecast.deciding.own', { reason: deal.reason })
  return deal.learnt_from === null ? deal.stage : tn('forecast.deciding.learnt', deal.learnt_from)
}
const readMoney = (text: string) =>
  readAmount(text || '0', me.value?.base_currency ?? '', me.value?.base_digits ?? 0)
const amountOf = (deal: DecidingDeal) => of(deal).amount ?? deal.amount
const chanceOf = (deal: DecidingDeal) => of(deal).probability ?? deal.probability
const dayOf = (deal: DecidingDeal) => of(deal).decision_on ?? deal.decision_on
</script>

<template>
  <div class="scroll">
    <table class="list">
      <thead>
        <tr>
          <th>{{ t('forecast.deciding.in') }}</th>
          <th>{{ t('forecast.deciding.deal') }}</th>
          <th class="num">{{ t('deals.form.amount') }}</th>
          <th class="num">{{ t('forecast.deciding.likely') }}</th>
          <th>{{ t('forecast.deciding.day') }}</th>
          <th>{{ t('forecast.deciding.from') }}</th>
          <th class="num">{{ t('forecast.deciding.swings') }}</th>
        </tr>
      </thead>
      <tbody>
        <tr
          v-for="deal in deals"
          :key="deal.id"
          :class="{ out: !isIn(deal), other: thoughts[deal.id] }"
        >
          <td>
            <ElCheckbox
              :model-value="isIn(deal)"
              :aria-label="t('forecast.deciding.inOf', { deal: deal.title })"
              @change="whatIf.think(deal, { out: isIn(deal) })"
            />
          </td>
          <td>
            <RouterLink :to="`/deals/${deal.id}`">{{ deal.title }}</RouterLink>
            <span class="soft"> · {{ deal.customer }}</span>
            <span v-if="isIn(deal) && !deal.inside" class="soft">
              · {{ t('forecast.deciding.moved') }}</span
            >
            <ElButton
              v-if="thoughts[deal.id]"
              text
              size="small"
              :aria-label="t('forecast.deciding.asIsOf', { deal: deal.title })"
              @click="whatIf.asIs(deal)"
              >{{ t('forecast.deciding.asIs') }}</ElButton
            >
          </td>
          <template v-if="typing">
            <td class="num">
              <TextField
                bare
                figure
                class="amount"
                :text="figure(amountOf(deal))"
                :label="t('forecast.deciding.amountOf', { deal: deal.title })"
                :read="readMoney"
                @change="(amount) => whatIf.think(deal, { amount })"
              />
            </td>
            <td class="num">
              <TextField
                bare
                figure
                class="chance"
                unit="%"
                :text="figure(chanceOf(deal))"
                :label="t('forecast.deciding.chanceOf', { deal: deal.title })"
                :read="readPercent"
                @change="(chance) => whatIf.think(deal, { probability: chance ?? undefined })"
              />
            </td>
            <td>
              <DayField
                bare
                small
                class="day"
                :model-value="dayOf(deal)"
                :label="t('forecast.deciding.dayOf', { deal: deal.title })"
                :from="todayIso()"
                @update:model-value="(on) => whatIf.think(deal, { decision_on: on ?? undefined })"
              />
            </td>
          </template>
          <template v-else>
            <td class="num">{{ figure(amountOf(deal)) }}</td>
            <td class="num">{{ figure(chanceOf(deal)) }} %</td>
            <td>{{ day(dayOf(deal)) }}</td>
          </template>
          <td class="soft">{{ from(deal) }}</td>
          <td class="num">{{ swingOf(deal.swing) }}</td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.other td {
  background: var(--amber-soft);
}
.out td:nth-child(n + 3) {
  text-decoration: line-through;
}
td :deep(.el-form-item) {
  margin: 0;
}
.amount {
  width: 120px;
  margin-left: auto;
}
.chance {
  width: 86px;
  margin-left: auto;
}
.day {
  width: 130px;
}
/* On paper those that decide: what swings nothing stays on the screen. */
@media print {
  tr:nth-child(n + 9) {
    display: none;
  }
}
</style>
