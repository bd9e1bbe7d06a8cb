<script setup lang="ts">
/** The strip of checks over a quote; each opens downward into its reasons and their mends. */
import { computed, toRef } from 'vue'
import type { Shapes } from '@/api/client'
import { day, figure, todayIso } from '@/kit/format/format'
import CheckStrip from '@/kit/show/CheckStrip.vue'
import StandingReasons from '@/parts/customer/StandingReasons.vue'
import type { DeskLine } from '@/parts/line/line'
import { t } from '@/words'
import AgainFold from '@/features/quotes/folds/AgainFold.vue'
import LimitsFold from '@/features/quotes/folds/LimitsFold.vue'
import ProblemsFold from '@/features/quotes/folds/ProblemsFold.vue'
import PromisesFold from '@/features/quotes/folds/PromisesFold.vue'
import type { Proposal } from '@/parts/promise/usePromises'
import { useChecks } from './useChecks'
import { weightOf } from './weight'

const props = defineProps<{
  quote: Shapes['QuoteOut']
  answer: Shapes['Answer']
  lines: DeskLine[]
  validUntil: string
  seesMargin: boolean
  promises: Shapes['PromisesOut'] | undefined
  /** Why nothing is known of the promises, though there are goods. */
  unknown: '' | 'asking' | 'failed'
  /** Whether the back office is being asked. */
  asking: boolean
  busy: boolean
}>()
const emit = defineEmits<{
  go: [row: number]
  quantity: [row: number, quantity: string]
  priceToday: []
  take: [key: string, proposal: Proposal]
  askNow: []
  ask: [reason: string]
  answer: [granted: boolean, comment: string]
}>()
const opened = defineModel<string>('opened', { required: true })
const draft = computed(() => props.quote.state === 'draft')
const totals = computed(() => props.answer.priced.totals)
const checks = useChecks(
  toRef(props, 'quote'),
  toRef(props, 'answer'),
  () => props.validUntil,
  () => props.seesMargin,
  () => props.promises ?? props.unknown,
)
</script>

<template>
  <CheckStrip v-model:open="opened" :checks="checks">
    <template #standing>
      <StandingReasons :standing="answer.standing" after />
      <p v-for="words in weightOf(answer.weight, quote.state === 'ordered')" :key="words">
        {{ words }}
      </p>
      <p>
        <RouterLink :to="`/customers/${quote.customer_id}`">{{ t('checks.openItems') }}</RouterLink>
      </p>
    </template>
    <template #prices>
      <p v-if="!answer.problems.length">{{ t('checks.allPriced', { day: day(answer.on) }) }}</p>
      <ProblemsFold
        :problems="answer.problems"
        :lines="lines"
        :editable="draft"
        @go="(row) => emit('go', row)"
        @quantity="(row, quantity) => emit('quantity', row, quantity)"
      />
      <AgainFold
        v-if="draft && answer.on !== todayIso()"
        :revision="quote.id"
        :on="answer.on"
        @go="emit('priceToday')"
      />
    </template>
    <template #promise>
      <PromisesFold
        :promises="promises"
        :unknown="unknown"
        :lines="lines"
        :editable="draft"
        :busy="asking"
        @ask="emit('askNow')"
        @go="(row) => emit('go', row)"
        @take="(key, proposal) => emit('take', key, proposal)"
      />
    </template>
    <template #margin>
      <p v-if="totals.margin">
        {{
          t('checks.marginWords', {
            margin: figure(totals.margin),
            net: figure(totals.net),
            cost: figure(totals.cost),
            floor: figure(quote.margin_floor),
          })
        }}
      </p>
      <p v-else>{{ t('checks.costUnknown') }}</p>
    </template>
    <template #limits>
      <LimitsFold
        :excesses="answer.excesses"
        :sign-off="answer.sign_off"
        :base="answer.standing.currency"
        :lines="lines"
        :may-sign="quote.may_sign"
        :may-ask="draft && !quote.may_sign"
        :busy="busy"
        @ask="(reason) => emit('ask', reason)"
        @answer="(granted, comment) => emit('answer', granted, comment)"
      />
    </template>
    <template #dates>
      <p>{{ t('checks.datesWords', { on: day(answer.on), until: day(validUntil) }) }}</p>
    </template>
  </CheckStrip>
</template>
