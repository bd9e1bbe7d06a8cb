<script lang="ts">
export type Panel =
  | ''
  | 'issue'
  | 'now'
  | 'rest'
  | 'late'
  | 'allow'
  | 'solve'
  | 'decline'
  | 'copy'
  | 'paste'
  | 'mail'
  | 'earlier'
  | 'regulars'
  | 'keep'
  | 'history'
  | 'files'
</script>

<script setup lang="ts">
/** The panel that is open over the desk, if one is; each is loaded when it is first wanted. */
import { defineAsyncComponent } from 'vue'
import type { Shapes } from '@/api/client'
import ReasonPanel from '@/kit/step/ReasonPanel.vue'
import type { DeskLine } from '@/parts/line/line'
import { t } from '@/words'
import type { QuoteActs } from './useQuoteActs'

const IssuePanel = defineAsyncComponent(() => import('@/features/quotes/panels/IssuePanel.vue'))
const SolvePanel = defineAsyncComponent(() => import('@/features/quotes/panels/SolvePanel.vue'))
const PastePanel = defineAsyncComponent(() => import('@/features/quotes/panels/PastePanel.vue'))
const FromMailPanel = defineAsyncComponent(
  () => import('@/features/quotes/panels/FromMailPanel.vue'),
)
const EarlierPanel = defineAsyncComponent(() => import('@/features/quotes/panels/EarlierPanel.vue'))
const RegularsPanel = defineAsyncComponent(
  () => import('@/features/quotes/panels/RegularsPanel.vue'),
)
const HistoryPanel = defineAsyncComponent(() => import('@/features/quotes/panels/HistoryPanel.vue'))
const FilesPanel = defineAsyncComponent(() => import('@/features/quotes/panels/FilesPanel.vue'))
const NowPanel = defineAsyncComponent(() => import('@/features/quotes/panels/NowPanel.vue'))
const AllowPanel = defineAsyncComponent(() => import('@/features/quotes/panels/AllowPanel.vue'))
const CopyPanel = defineAsyncComponent(() => import('@/features/quotes/panels/CopyPanel.vue'))

const panel = defineModel<Panel>({ required: true })
defineProps<{
  quote: Shapes['QuoteOut']
  lines: DeskLine[]
  answer: Shapes['Answer']
  validUntil: string
  seesMargin: boolean
  pasted: { text: string; at: number }
  acts: QuoteActs
}>()
const emit = defineEmits<{
  insert: [rows: DeskLine[], at: number]
  solved: [amount: string, percent: string | null, line: string]
}>()
const close = () => (panel.value = '')
const REASONS = {
  rest: { title: 'desk.rest.title', act: 'desk.rest.act', label: 'desk.rest.label' },
  late: { title: 'desk.late.title', act: 'desk.late.act', label: 'desk.late.label' },
} as const
</script>

<template>
  <IssuePanel
    v-if="panel === 'issue'"
    :quote="quote"
    :payable="answer.priced.totals.payable"
    :valid-until="validUntil"
    :busy="acts.busy.value"
    @issue="acts.issue"
    @close="close"
  />
  <NowPanel
    v-else-if="panel === 'now'"
    :quote="quote"
    :payable="answer.priced.totals.payable"
    :busy="acts.busy.value"
    @go="acts.orderNow"
    @close="close"
  />
  <ReasonPanel
    v-else-if="panel === 'rest' || panel === 'late'"
    :key="panel"
    :title="t(REASONS[panel].title, { number: quote.number, letter: quote.letter })"
    :act="t(REASONS[panel].act)"
    :label="t(REASONS[panel].label)"
    :busy="acts.busy.value"
    @go="(reason) => (panel === 'rest' ? acts.closeRest(reason) : acts.askLate(reason))"
    @close="close"
  />
  <AllowPanel
    v-else-if="panel === 'allow'"
    :quote="quote"
    :busy="acts.busy.value"
    @go="acts.allowLate"
    @close="close"
  />
  <SolvePanel
    v-else-if="panel === 'solve'"
    :revision="quote.id"
    :currency="quote.currency"
    :lines="lines"
    :margin="seesMargin"
    @solved="(amount, percent, line) => emit('solved', amount, percent, line)"
    @close="close"
  />
  <PastePanel
    v-else-if="panel === 'paste'"
    :text="pasted.text"
    :at="pasted.at"
    :customer="quote.customer_id"
    @insert="(rows, at) => emit('insert', rows, at)"
    @mail="panel = 'mail'"
    @close="close"
  />
  <FromMailPanel
    v-else-if="panel === 'mail'"
    :text="pasted.text"
    :at="pasted.text ? pasted.at : lines.length"
    :customer="quote.customer_id"
    @insert="(rows, at) => emit('insert', rows, at)"
    @close="close"
  />
  <EarlierPanel
    v-else-if="panel === 'earlier'"
    :customer="quote.customer_id"
    :revision="quote.id"
    :units="quote.unit_names"
    @insert="(rows) => emit('insert', rows, lines.length)"
    @close="close"
  />
  <RegularsPanel
    v-else-if="panel === 'regulars'"
    :customer="quote.customer_id"
    :margin="seesMargin"
    @insert="(rows) => emit('insert', rows, lines.length)"
    @close="close"
  />
  <ReasonPanel
    v-else-if="panel === 'decline'"
    :title="
      t('desk.decline.title', {
        customer: quote.customer,
        number: quote.number,
        letter: quote.letter,
      })
    "
    :act="t('desk.decline.act')"
    :label="t('desk.decline.label')"
    :busy="acts.busy.value"
    @go="acts.decline"
    @close="close"
  />
  <HistoryPanel
    v-else-if="panel === 'history'"
    :quote="quote.quote_id"
    :number="quote.number"
    @close="close"
  />
  <FilesPanel v-else-if="panel === 'files'" :quote="quote" :lines="lines" @close="close" />
  <ReasonPanel
    v-else-if="panel === 'keep'"
    :title="t('desk.keep.title')"
    :act="t('desk.keep.act')"
    :label="t('desk.keep.label')"
    :busy="acts.busy.value"
    @go="acts.keep"
    @close="close"
  />
  <CopyPanel v-else-if="panel === 'copy'" :busy="acts.busy.value" @go="acts.copy" @close="close" />
</template>
