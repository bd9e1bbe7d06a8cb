<script setup lang="ts">
/** The quote desk: head with the Route, checks, lines, and the sum bar with the next step. */
import { useQuery } from '@tanstack/vue-query'
import { onKeyStroke, useEventListener } from '@vueuse/core'
import { computed, nextTick, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { api, take } from '@/api/client'
import CheckStrip from '@/kit/show/CheckStrip.vue'
import { clock, count, day, figure, size, todayIso } from '@/kit/format/format'
import LoadState from '@/kit/show/LoadState.vue'
import { say } from '@/kit/act/notices'
import { me } from '@/api/session'
import SheetHead from '@/parts/route/SheetHead.vue'
import StandingReasons from '@/parts/customer/StandingReasons.vue'
import SumBar from '@/kit/show/SumBar.vue'
import SureButton from '@/kit/step/SureButton.vue'
import AcceptPanel from './AcceptPanel.vue'
import AgainFold from './AgainFold.vue'
import HistoryPanel from './HistoryPanel.vue'
import IssuePanel from './IssuePanel.vue'
import { changed } from './lineActs'
import LineGrid from './LineGrid.vue'
import EarlierPanel from './EarlierPanel.vue'
import DocumentTerms from './DocumentTerms.vue'
import LimitsFold from './LimitsFold.vue'
import MoreMenu from './MoreMenu.vue'
import PastePanel from './PastePanel.vue'
import ProblemsFold from './ProblemsFold.vue'
import ReasonPanel from '@/kit/step/ReasonPanel.vue'
import SolvePanel from './SolvePanel.vue'
import CopyPanel from './CopyPanel.vue'
import { useChecks } from './useChecks'
import { type DeskLine, newLine } from '@/parts/line/line'
import { type DeskFields, useDesk } from './useDesk'
import { useQuoteActs } from './useQuoteActs'

const route = useRoute()
const id = Number(route.params.id)
const { data, error, refetch } = useQuery({
  queryKey: ['revision', id],
  queryFn: () =>
    take(api.GET('/api/revisions/{revision_id}', { params: { path: { revision_id: id } } })),
  staleTime: Infinity,
  refetchOnWindowFocus: false,
})
const desk = useDesk(data)
const { lines, fields, answer, saving, fault } = desk
const grid = ref<InstanceType<typeof LineGrid>>()
const panel = ref<
  '' | 'issue' | 'accept' | 'solve' | 'decline' | 'copy' | 'paste' | 'earlier' | 'keep' | 'history'
>('')
/** The check whose reasons are shown. */
const opened = ref('')
const pasted = ref({ text: '', at: 0 })
watch(
  data,
  (quote) => {
    if (!quote) return
    desk.load(quote)
    if (quote.state === 'draft' && window.innerWidth > 820) void nextTick(() => grid.value?.start())
  },
  { immediate: true },
)
useEventListener(window, 'beforeunload', (event: BeforeUnloadEvent) => {
  void desk.flush()
  if (saving.value === 'offline') event.preventDefault()
})

const draft = computed(() => data.value?.state === 'draft')
const totals = computed(() => answer.value?.priced.totals)
const sees = computed(() => me.value?.sees_margin ?? false)

const checks = useChecks(
  data,
  answer,
  () => (draft.value ? fields.value.valid_until : (data.value?.valid_until ?? '')),
  () => sees.value,
)
const discountLabel = computed(() => {
  const p = fields.value.discount_percent
  return p ? `Discount ${figure(p)} % of ${fields.value.discount_on}` : 'Discount'
})
const sums = computed(() => {
  const t = totals.value
  if (!t || !data.value) return []
  const found = [
    { label: 'Lines', value: figure(t.lines_net) },
    {
      label: discountLabel.value,
      value: t.document_discount === '0.00' ? '—' : `−${figure(t.document_discount)}`,
    },
    ...(size(t.charges) ? [{ label: 'Charges', value: figure(t.charges) }] : []),
    { label: 'Net', value: figure(t.net) },
    { label: 'Tax', value: figure(t.tax_total) },
    ...(size(t.payable_rounding) ? [{ label: 'Rounding', value: figure(t.payable_rounding) }] : []),
    { label: `Payable ${data.value.currency}`, value: figure(t.payable), main: true },
  ]
  if (sees.value) {
    found.push({ label: 'Margin', value: t.margin_percent ? `${figure(t.margin_percent)} %` : '—' })
  }
  return found
})
const status = computed(
  () =>
    ({
      saved: answer.value ? `saved ${clock(answer.value.saved_at)}` : '',
      typing: 'not saved yet',
      saving: 'saving…',
      offline: 'not saved: the server does not answer, trying again',
      stale: 'not saved: somebody else changed it',
      refused: `not saved: ${fault.value?.message ?? ''}`,
    })[saving.value],
)
/** The Route, with what the draft comes to as it stands now. */
const stops = computed(() =>
  (data.value?.route ?? []).map((stop) =>
    draft.value && stop.kind === 'quote' && stop.amount && totals.value
      ? { ...stop, amount: totals.value.payable }
      : stop,
  ),
)
const STATES: Record<string, string> = {
  draft: 'draft',
  issued: 'issued',
  lapsed: 'lapsed',
  declined: 'declined',
  ordered: 'ordered',
}

function changeLines(next: DeskLine[]): void {
  desk.change({ lines: next })
}
function changeFields(next: Partial<DeskFields>): void {
  desk.change({ fields: { ...fields.value, ...next } })
}
function paste(text: string, at: number): void {
  pasted.value = { text, at }
  panel.value = 'paste'
}
function insert(rows: DeskLine[], at: number): void {
  const next = [...lines.value]
  next.splice(at, 0, ...rows)
  panel.value = ''
  desk.change({ lines: next })
  say(`${count(rows.length, 'line')} added.`, undo)
}
/** A line in two: what the agreement covers, and the rest. */
function split(key: string, covered: string, rest: string): void {
  const next = lines.value.flatMap((line) =>
    line.key === key
      ? [
          { ...line, quantity: covered },
          { ...newLine(line.item), ...line, key: crypto.randomUUID(), quantity: rest },
        ]
      : [line],
  )
  desk.change({ lines: next })
}
function solved(amount: string, percent: string | null, line: string): void {
  panel.value = ''
  if (!line) {
    changeFields({
      discount_percent: percent ?? '',
      discount_amount: percent ? '' : amount,
      discount_on: 'net',
    })
    return
  }
  desk.change({
    lines: lines.value.map((row) =>
      row.key === line ? { ...row, discount_amount: amount, discount_percent: null } : row,
    ),
  })
}
function undo(): void {
  if (!desk.undo()) say('Nothing to take back.')
}
onKeyStroke('z', (event) => {
  const target = event.target as HTMLElement
  if ((event.ctrlKey || event.metaKey) && draft.value && !/INPUT|TEXTAREA/.test(target.tagName)) {
    event.preventDefault()
    undo()
  }
})
onKeyStroke('Enter', (event) => {
  if (!event.ctrlKey && !event.metaKey) return
  event.preventDefault()
  if (draft.value) void openIssue()
  else if (data.value?.state === 'issued' && data.value.newest) panel.value = 'accept'
})

onKeyStroke(['l', 's'], (event) => {
  if (!event.altKey || !draft.value) return
  event.preventDefault()
  if (event.key === 'l') panel.value = 'earlier'
  else void openSolve()
})

async function openSolve(): Promise<void> {
  await desk.flush()
  panel.value = 'solve'
}
async function openIssue(): Promise<void> {
  await desk.flush()
  const first = answer.value?.problems[0]
  if (first) {
    const row = lines.value.findIndex((line) => line.key === first.line)
    say(row >= 0 ? `Line ${row + 1} ${first.words}` : first.words)
    if (row >= 0) grid.value?.goTo(row)
    return
  }
  panel.value = panel.value === 'issue' ? '' : 'issue'
}
/** Prices moved under the draft: show today's, or for an older draft what would move. */
function showMoved(): void {
  panel.value = ''
  if (answer.value?.on === todayIso()) desk.priceToday()
  else opened.value = 'prices'
}
const acts = useQuoteActs(data, desk, refetch, () => (panel.value = ''), showMoved)
const { busy } = acts
function open(which: typeof panel.value): void {
  if (which === 'solve') void openSolve()
  else panel.value = which
}
</script>

<template>
  <div class="page with-bar desk">
    <LoadState v-if="!data" :error="error" :rows="14" @again="refetch()" />
    <template v-else>
      <SheetHead :title="data.customer" :stops="stops">
        Quote {{ data.number }}, revision {{ data.letter }} · {{ STATES[data.state]
        }}<template v-if="draft"
          ><span :class="{ fault: !['saved', 'typing', 'saving'].includes(saving) }" role="status"
            >, {{ status }}</span
          ></template
        >
        <template v-else-if="data.issued_at"
          >{{ data.state === 'issued' ? '' : ', issued' }} {{ day(data.issued_at) }} by
          {{ data.issued_by }}</template
        >
        · {{ data.currency }} · {{ data.price_list }}
        <template #side>
          <RouterLink v-if="data.deal_id" class="soft" :to="`/deals/${data.deal_id}`">{{
            data.deal
          }}</RouterLink>
        </template>
      </SheetHead>

      <div v-if="saving === 'stale'" class="card clash" role="alert">
        <p>
          <b>Somebody else changed this draft while you were working on it.</b> Nothing of yours is
          lost.
        </p>
        <button class="btn" @click="desk.takeTheirs()">
          Show theirs (Ctrl Z brings mine back)
        </button>
        <button class="btn" @click="desk.saveMine()">Save mine over it</button>
      </div>

      <CheckStrip v-model:open="opened" :checks="checks">
        <template #standing>
          <StandingReasons v-if="answer" :standing="answer.standing" after />
          <p>
            <RouterLink :to="`/customers/${data.customer_id}`">Open items and balance</RouterLink>
          </p>
        </template>
        <template #prices>
          <p v-if="!answer?.problems.length">
            Every line has a price from a list that holds on {{ day(answer?.on) }}.
          </p>
          <ProblemsFold
            :problems="answer?.problems ?? []"
            :lines="lines"
            :editable="draft"
            @go="(row) => grid?.goTo(row)"
            @quantity="(row, quantity) => changeLines(changed(lines, row, { quantity }))"
          />
          <AgainFold
            v-if="draft && answer && answer.on !== todayIso()"
            :revision="id"
            :on="answer.on"
            @go="desk.priceToday()"
          />
        </template>
        <template #margin>
          <p v-if="totals?.margin">
            Margin {{ figure(totals.margin) }} on a net of {{ figure(totals.net) }}, cost
            {{ figure(totals.cost) }}. Below {{ figure(data.margin_floor) }} % it shows as a
            caution.
          </p>
          <p v-else>
            The cost of at least one item is not known, so the margin is not known either.
          </p>
        </template>
        <template #limits>
          <LimitsFold
            v-if="answer"
            :excesses="answer.excesses"
            :sign-off="answer.sign_off"
            :base="answer.standing.currency"
            :lines="lines"
            :may-sign="data.may_sign"
            :may-ask="draft && !data.may_sign"
            :busy="busy"
            @ask="acts.askSignOff"
            @answer="acts.answerSignOff"
          />
        </template>
        <template #dates>
          <p>
            Prices as of {{ day(answer?.on) }}. The buyer can accept until
            {{ day(draft ? fields.valid_until : data.valid_until) }}.
          </p>
        </template>
      </CheckStrip>

      <DocumentTerms
        v-if="draft"
        :fields="fields"
        :contacts="data.contacts"
        :currency="data.currency"
        :categories="data.tax_categories"
        :addresses="data.addresses"
        :rate="answer?.early_yearly_rate ?? null"
        @change="changeFields"
      />
      <div v-else class="gap" />

      <LineGrid
        v-if="answer"
        ref="grid"
        :lines="lines"
        :priced="answer.priced"
        :problems="answer.problems"
        :units="data.unit_names"
        :lists="data.list_names"
        :currency="data.currency"
        :editable="draft"
        :margin="sees"
        :customer="data.customer_id"
        @change="changeLines"
        @undo="undo"
        @fold="(keys) => (desk.trails.value = keys)"
        @paste="paste"
        @split="split"
      />
      <p v-if="answer?.priced.next_breaks_left_out" class="soft">
        {{ count(answer.priced.next_breaks_left_out, 'next break') }} with smaller savings
        {{ answer.priced.next_breaks_left_out === 1 ? 'is' : 'are' }} not shown: the quote is very
        large.
      </p>
      <p v-if="draft" class="keys soft">
        Enter goes on · Tab next field · Alt ↓ price trail · Ctrl V pastes rows · Ctrl Z takes back
        · Ctrl Enter issues · ? shows all keys
        <SureButton
          label="Throw the draft away…"
          question="It cannot be had back."
          act="Throw it away"
          :disabled="busy"
          @go="acts.discard"
        />
      </p>

      <IssuePanel
        v-if="panel === 'issue'"
        :quote="data"
        :payable="totals?.payable ?? ''"
        :valid-until="fields.valid_until"
        :busy="busy"
        @issue="acts.issue"
        @close="panel = ''"
      />
      <AcceptPanel
        v-if="panel === 'accept'"
        :quote="data"
        :busy="busy"
        @accept="acts.accept"
        @close="panel = ''"
      />
      <SolvePanel
        v-if="panel === 'solve'"
        :revision="id"
        :currency="data.currency"
        :lines="lines"
        :margin="sees"
        @solved="solved"
        @close="panel = ''"
      />
      <PastePanel
        v-if="panel === 'paste'"
        :text="pasted.text"
        :at="pasted.at"
        @insert="insert"
        @close="panel = ''"
      />
      <EarlierPanel
        v-if="panel === 'earlier'"
        :customer="data.customer_id"
        :revision="id"
        :units="data.unit_names"
        @insert="(rows) => insert(rows, lines.length)"
        @close="panel = ''"
      />
      <ReasonPanel
        v-if="panel === 'decline'"
        :title="`${data.customer} said no to ${data.number} ${data.letter}`"
        act="Mark as declined"
        label="Because"
        :busy="busy"
        @go="acts.decline"
        @close="panel = ''"
      />
      <HistoryPanel
        v-if="panel === 'history'"
        :quote="data.quote_id"
        :number="data.number"
        @close="panel = ''"
      />
      <ReasonPanel
        v-if="panel === 'keep'"
        title="Keep as a case: what it gives now must hold when prices change"
        act="Keep it"
        label="Under the name"
        :busy="busy"
        @go="acts.keep"
        @close="panel = ''"
      />
      <CopyPanel v-if="panel === 'copy'" :busy="busy" @go="acts.copy" @close="panel = ''" />
      <SumBar :sums="sums">
        <MoreMenu :quote="data" :sees-margin="sees" :admin="me?.role === 'admin'" @open="open" />
        <a class="btn quiet" :href="`/api/revisions/${id}/pdf`" target="_blank" rel="noopener">{{
          draft ? 'Preview' : 'PDF'
        }}</a>
        <button v-if="draft" class="btn step" :disabled="busy || !lines.length" @click="openIssue">
          Issue revision {{ data.letter }}…
        </button>
        <template v-else-if="data.order_id">
          <RouterLink class="btn step" :to="`/orders/${data.order_id}`"
            >Order {{ data.order_number }}</RouterLink
          >
        </template>
        <template v-else-if="data.newest">
          <button class="btn" :disabled="busy" @click="acts.revise">Revise</button>
          <button
            v-if="data.state === 'issued'"
            class="btn step"
            :disabled="busy"
            @click="panel = panel === 'accept' ? '' : 'accept'"
          >
            Make the order…
          </button>
        </template>
        <RouterLink
          v-else
          class="btn step"
          :to="`/quotes/${data.revisions[data.revisions.length - 1]?.id}`"
          >Go to revision {{ data.revisions[data.revisions.length - 1]?.letter }}</RouterLink
        >
      </SumBar>
    </template>
  </div>
</template>

<style scoped>
.desk {
  padding-top: 10px;
}
.gap {
  height: 10px;
}
.keys {
  margin-top: 6px;
  font-size: 12px;
}
.clash {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 12px;
  align-items: center;
  margin-bottom: 8px;
  background: var(--amber-soft);
}
</style>
