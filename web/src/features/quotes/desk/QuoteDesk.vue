<script setup lang="ts">
/** The quote desk: head with the Route, checks, terms, lines, and the sum bar with the next step. */
import {
  computed,
  defineAsyncComponent,
  nextTick,
  onMounted,
  ref,
  toRef,
  useTemplateRef,
} from 'vue'
import { useRoute } from 'vue-router'
import type { Shapes } from '@/api/client'
import { me } from '@/api/session'
import { say } from '@/kit/act/notices'
import { useFields } from '@/kit/form/unread'
import { todayIso } from '@/kit/format/format'
import SumBar from '@/kit/show/SumBar.vue'
import SureButton from '@/kit/step/SureButton.vue'
import type { DeskLine } from '@/parts/line/line'
import { isProse } from '@/parts/reading/prose'
import { t, tn } from '@/words'
import { numbersOf, withSplit } from '@/features/quotes/grid/lineActs'
import LineGrid from '@/features/quotes/grid/LineGrid.vue'
import DocumentTerms from '@/features/quotes/terms/DocumentTerms.vue'
import type { DeskFields } from './draftShape'
import { firstProblem, solvedFields, withAmountOff } from './firstProblem'
import QuoteBar from './QuoteBar.vue'
import QuoteChecks from './QuoteChecks.vue'
import QuoteHead from './QuoteHead.vue'
import QuotePanels, { type Panel } from './QuotePanels.vue'
import { useDesk } from './useDesk'
import { usePromising } from './usePromising'
import { useQuoteActs } from './useQuoteActs'
import { useQuoteKeys } from './useQuoteKeys'
import { useSums } from './useSums'

const AfterIssue = defineAsyncComponent(() => import('@/features/quotes/buyer/AfterIssue.vue'))
const NotedHere = defineAsyncComponent(() => import('@/parts/diary/DocumentActivities.vue'))
const ClashCard = defineAsyncComponent(() => import('./ClashCard.vue'))

const props = defineProps<{ quote: Shapes['QuoteOut'] }>()
const emit = defineEmits<{ again: [] }>()
const quote = toRef(props, 'quote')
const desk = useDesk(quote)
const { lines, fields, answer, fault } = desk
const grid = useTemplateRef('grid')
/** A quote that was started from a mail begins with reading it. */
const panel = ref<Panel>(props.quote.state === 'draft' && useRoute().query.mail ? 'mail' : '')
/** The check whose reasons are shown. */
const opened = ref('')
const pasted = ref({ text: '', at: 0 })
const WIDE_PX = 820
const draft = computed(() => props.quote.state === 'draft')
const sees = computed(() => me.value?.sees_margin ?? false)
const sums = useSums(quote, answer, fields, sees)
const terms = computed<DeskFields>(() => fields.value)
onMounted(() => {
  const grids = draft.value && !panel.value && window.innerWidth > WIDE_PX
  if (grids) void nextTick(() => grid.value?.start())
})

const promising = usePromising(quote, lines, terms, desk.setLines, undo)
const settleFields = useFields()

/** What is typed in a cell or a field is taken in and saved; false, and why, where that cannot be. */
async function ready(): Promise<boolean> {
  const refused = grid.value?.settle()
  if (refused) {
    const number = numbersOf(lines.value)[lines.value.findIndex((l) => l.key === refused.key)]
    say(t('desk.unread', { number: number ?? '', text: refused.text }))
    return false
  }
  const unread = settleFields()
  if (unread) {
    say(t('desk.unreadField', { label: unread.label, text: unread.text }))
    unread.focus()
    return false
  }
  if (!draft.value) return true
  const saved = await desk.flush()
  if (!saved) say(t('desk.notSaved'))
  return saved
}
const acts = useQuoteActs(quote, desk, {
  ready,
  done: () => (panel.value = ''),
  again: () => emit('again'),
  moved: showMoved,
})

function insert(rows: DeskLine[], at: number): void {
  panel.value = ''
  desk.setLines([...lines.value.slice(0, at), ...rows, ...lines.value.slice(at)])
  say(tn('desk.added', rows.length), undo)
}
function paste(text: string, at: number): void {
  pasted.value = { text, at }
  panel.value = isProse(text) ? 'mail' : 'paste'
}
const split = (key: string, covered: string, rest: string) =>
  desk.setLines(withSplit(lines.value, key, covered, rest))
function solved(amount: string, percent: string | null, key: string): void {
  panel.value = ''
  if (key) desk.setLines(withAmountOff(lines.value, key, amount))
  else desk.setFields(solvedFields(amount, percent))
}
function undo(): void {
  if (!desk.undo()) say(t('desk.nothingToUndo'))
}
function redo(): void {
  if (!desk.redo()) say(t('desk.nothingToRedo'))
}
/** Open a panel over the draft as it is saved; a second time closes it. */
async function open(which: Panel): Promise<void> {
  if (which === 'mail') pasted.value = { text: '', at: 0 }
  if (panel.value === which) panel.value = ''
  else if (which !== 'solve' && which !== 'issue') panel.value = which
  else if ((await ready()) && (which !== 'issue' || issuable())) panel.value = which
}
/** Whether nothing stands against issuing; else on to the first thing that does. */
function issuable(): boolean {
  const first = firstProblem(answer.value, lines.value)
  if (!first) return true
  say(first.said)
  if (first.row >= 0) grid.value?.goTo(first.row)
  return false
}
/** Prices moved under the draft: show today's, or for an older draft what would move. */
function showMoved(): void {
  panel.value = ''
  if (answer.value.on === todayIso()) desk.priceToday()
  else opened.value = 'prices'
}
useQuoteKeys({ draft, quote, undo, redo, open: (which) => void open(which) })
</script>

<template>
  <QuoteHead
    :quote="quote"
    :saving="desk.saving.value"
    :fault="fault"
    :unkept="desk.unkept.value"
    :answer="answer"
  />
  <ClashCard :desk="desk" :acts="acts" @again="emit('again')" />
  <QuoteChecks
    v-model:opened="opened"
    :quote="quote"
    :answer="answer"
    :lines="lines"
    :valid-until="draft ? fields.valid_until : quote.valid_until"
    :sees-margin="sees"
    :promises="promising.found.value"
    :unknown="promising.unknown.value"
    :asking="promising.busy.value"
    :busy="acts.busy.value"
    @ask-now="promising.ask"
    @take="promising.take"
    @go="(row) => grid?.goTo(row)"
    @quantity="
      (row, quantity) =>
        desk.setLines(lines.map((line, n) => (n === row ? { ...line, quantity } : line)))
    "
    @price-today="desk.priceToday()"
    @ask="acts.askSignOff"
    @answer="acts.answerSignOff"
  />
  <DocumentTerms
    v-if="draft"
    :fields="terms"
    :quote="quote"
    :rate="answer.early_yearly_rate"
    :fault="desk.saving.value === 'refused' ? fault : null"
    @change="desk.setFields"
  />
  <AfterIssue v-else-if="me?.sells" :quote="quote" />
  <LineGrid
    ref="grid"
    :place="`vivid-refused:${me?.id}:quote-${quote.id}`"
    :lines="lines"
    :priced="answer.priced"
    :problems="answer.problems"
    :units="quote.unit_names"
    :lists="quote.list_names"
    :currency="quote.currency"
    :digits="quote.digits"
    :editable="draft"
    :margin="sees"
    :customer="quote.customer_id"
    :promises="promising.byKey.value"
    :depots="promising.depots.value"
    @take="promising.take"
    @change="desk.setLines"
    @fold="(keys) => (desk.trails.value = keys)"
    @paste="paste"
    @split="split"
  />
  <p v-if="answer.priced.next_breaks_left_out" class="soft">
    {{ tn('desk.breaksLeftOut', answer.priced.next_breaks_left_out) }}
  </p>
  <p v-if="draft" class="keys soft">
    <span class="hint">{{ t('desk.keysHint') }}</span>
    <SureButton
      :label="t('desk.discard.label')"
      :question="t('desk.discard.question')"
      :act="t('desk.discard.act')"
      :disabled="acts.busy.value"
      @go="acts.discard"
    />
  </p>
  <NotedHere v-if="me?.sells" class="noted" about="quote" :record="quote.quote_id" />
  <QuotePanels
    v-model="panel"
    :quote="quote"
    :lines="lines"
    :answer="answer"
    :valid-until="fields.valid_until"
    :sees-margin="sees"
    :pasted="pasted"
    :acts="acts"
    @insert="insert"
    @solved="solved"
  />
  <SumBar :sums="sums" :stale="desk.saving.value === 'offline'">
    <QuoteBar
      :quote="quote"
      :empty="!lines.length"
      :panel="panel"
      :acts="acts"
      @open="(which) => void open(which)"
    />
  </SumBar>
</template>

<style scoped>
.noted {
  margin-top: 8px;
}
.keys {
  margin-top: 6px;
  font-size: 12px;
}
@media (max-width: 820px) {
  .hint {
    display: none;
  }
}
</style>
