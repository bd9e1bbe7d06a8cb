<script setup lang="ts">
/** A deal: its Route, its figures, activities, contact, the customer's standing, its quotes. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { Fault, api, take, type Shapes } from '@/api/client'
import ActivityCard from '@/parts/diary/ActivityCard.vue'
import EmptyState from '@/kit/show/EmptyState.vue'
import { day, figure } from '@/kit/format/format'
import LoadState from '@/kit/show/LoadState.vue'
import { complain, say } from '@/kit/act/notices'
import SheetHead from '@/parts/route/SheetHead.vue'
import StandingStrip from '@/parts/customer/StandingStrip.vue'
import { CONFIDENCE, changeDeal, useStages, type DealChange } from './useDeals'

const route = useRoute()
const router = useRouter()
const client = useQueryClient()
const id = Number(route.params.id)
const stages = useStages()
const { data, error, refetch } = useQuery({
  queryKey: ['deal', id],
  queryFn: () => take(api.GET('/api/deals/{deal_id}', { params: { path: { deal_id: id } } })),
})
const form = ref({ estimate: '', decision_on: '', probability: '', reason: '', title: '' })
watch(
  data,
  (deal) => {
    if (!deal) return
    form.value = {
      estimate: deal.estimate,
      decision_on: deal.decision_on,
      probability: deal.own_probability ?? '',
      reason: deal.probability_reason,
      title: deal.title,
    }
  },
  { immediate: true },
)
const STATES: Record<string, string> = {
  draft: 'Draft',
  issued: 'Issued',
  lapsed: 'Lapsed',
  declined: 'Declined',
  ordered: 'Ordered',
}
const closed = computed(() => data.value?.outcome !== 'open')

async function change(what: DealChange, undo?: DealChange): Promise<void> {
  const deal = data.value
  if (!deal) return
  try {
    const saved = await changeDeal(id, deal.version, what)
    client.setQueryData(['deal', id], saved)
    void client.invalidateQueries({ queryKey: ['deals'] })
    void client.invalidateQueries({ queryKey: ['timetable'] })
    void client.invalidateQueries({ queryKey: ['forecast'] })
    say('Saved.', undo ? () => void change(undo) : undefined)
  } catch (fault) {
    complain(fault)
    if (fault instanceof Fault && fault.status === 409) await refetch()
  }
}
function saveEstimate(): void {
  const deal = data.value
  if (deal && form.value.estimate !== deal.estimate) {
    void change({ estimate: form.value.estimate || '0' }, { estimate: deal.estimate })
  }
}
function saveDay(): void {
  const deal = data.value
  if (deal && form.value.decision_on && form.value.decision_on !== deal.decision_on) {
    void change({ decision_on: form.value.decision_on }, { decision_on: deal.decision_on })
  }
}
function saveProbability(): void {
  const own = form.value.probability
  void change({ probability: own === '' ? null : own, probability_reason: form.value.reason })
}
function saveStage(event: Event): void {
  const stage = (event.target as HTMLSelectElement).value
  void change({ stage }, { stage: data.value?.stage })
}

async function startQuote(): Promise<void> {
  try {
    const made: Shapes['QuoteOut'] = await take(api.POST('/api/quotes', { body: { deal_id: id } }))
    await client.invalidateQueries()
    await router.push(`/quotes/${made.id}`)
  } catch (fault) {
    complain(fault)
  }
}
</script>

<template>
  <div class="page">
    <LoadState v-if="!data" :error="error" @again="refetch()" />
    <template v-else>
      <SheetHead :title="data.title" :stops="data.route">
        <RouterLink :to="`/customers/${data.customer_id}`">{{ data.customer }}</RouterLink>
        · {{ data.owner }} · since {{ day(data.created_at) }}
        <template #side>
          <button v-if="!closed" class="btn act" @click="startQuote">Start a quote</button>
        </template>
      </SheetHead>
      <StandingStrip :standing="data.standing" :to="`/customers/${data.customer_id}`" />
      <div class="columns">
        <section class="card">
          <header>
            <h2>The deal</h2>
            <span class="soft">amount × probability = weighted</span>
          </header>
          <div class="sum">
            <div>
              <small>Amount</small><b>{{ figure(data.amount) }}</b
              ><small>{{ data.quoted ? 'the issued quote' : "the rep's estimate" }}</small>
            </div>
            <div>
              <small>Probability</small><b>{{ figure(data.probability) }} %</b
              ><small>{{
                data.own_probability ? data.probability_reason : `stage ${data.stage_name}`
              }}</small>
            </div>
            <div>
              <small>Weighted</small><b>{{ figure(data.weighted) }}</b>
            </div>
          </div>
          <div class="form">
            <label class="field"
              ><span>Stage</span>
              <select class="input" :value="data.stage" name="stage" @change="saveStage">
                <option v-for="s in stages.data.value ?? []" :key="s.code" :value="s.code">
                  {{ s.name }}
                </option>
              </select></label
            >
            <label class="field"
              ><span :class="{ late: data.overdue }"
                >Expected decision{{ data.overdue ? ': gone by' : '' }}</span
              >
              <input
                v-model="form.decision_on"
                class="input"
                type="date"
                name="decision"
                @change="saveDay"
            /></label>
            <label class="field"
              ><span>Confidence</span>
              <select
                class="input"
                :value="data.confidence"
                name="confidence"
                @change="
                  change(
                    { confidence: ($event.target as HTMLSelectElement).value as 'sure' },
                    { confidence: data.confidence as 'sure' },
                  )
                "
              >
                <option v-for="(name, key) in CONFIDENCE" :key="key" :value="key">
                  {{ name }}
                </option>
              </select></label
            >
            <label class="field"
              ><span>Estimate</span>
              <input
                v-model="form.estimate"
                class="input"
                inputmode="decimal"
                name="estimate"
                @change="saveEstimate"
            /></label>
            <label class="field"
              ><span>Contact</span>
              <select
                class="input"
                name="contact"
                :value="String(data.contact?.id ?? '')"
                @change="
                  change({ contact_id: Number(($event.target as HTMLSelectElement).value) || null })
                "
              >
                <option value="">Nobody yet</option>
                <option v-for="c in data.contacts" :key="c.id" :value="String(c.id)">
                  {{ c.name }}{{ c.role ? `, ${c.role}` : '' }}
                </option>
              </select></label
            >
          </div>
          <div class="form own">
            <label class="field"
              ><span>Own probability %</span>
              <input
                v-model="form.probability"
                class="input"
                inputmode="decimal"
                name="probability"
            /></label>
            <label class="field"
              ><span>Because</span>
              <input
                v-model="form.reason"
                class="input"
                name="reason"
                placeholder="why it differs from the stage's"
            /></label>
            <button class="btn" @click="saveProbability">Set probability</button>
          </div>
          <p v-if="data.contact" class="reach soft">
            {{ data.contact.name
            }}<template v-if="data.contact.role">, {{ data.contact.role }}</template> ·
            <a :href="`mailto:${data.contact.email}`">{{ data.contact.email }}</a> ·
            <a :href="`tel:${data.contact.phone}`">{{ data.contact.phone }}</a>
          </p>
          <header class="again"><h2>Quotes</h2></header>
          <EmptyState v-if="!data.quotes.length" title="No quote yet">
            A quote takes over the customer, the contact and this deal.
          </EmptyState>
          <table v-else class="list">
            <tbody>
              <tr
                v-for="q in data.quotes"
                :key="q.revision_id"
                class="goes"
                @click="router.push(`/quotes/${q.revision_id}`)"
              >
                <td>
                  <RouterLink class="whole" :to="`/quotes/${q.revision_id}`" @click.stop
                    >{{ q.number }} {{ q.letter }}</RouterLink
                  >
                </td>
                <td>{{ STATES[q.state] }}</td>
                <td class="soft">valid to {{ day(q.valid_until) }}</td>
                <td class="num">{{ figure(q.payable) }} {{ q.currency }}</td>
              </tr>
            </tbody>
          </table>
        </section>
        <ActivityCard :activities="data.activities" :deal-id="id" @changed="refetch()" />
      </div>
    </template>
  </div>
</template>

<style scoped>
.sum {
  display: flex;
  gap: 34px;
  margin: 4px 0 12px;
}
.sum div {
  display: flex;
  flex-direction: column;
}
.sum b {
  font-size: 21px;
  line-height: 1.2;
}
.sum small {
  color: var(--ink-2);
  font-size: 12px;
}
.form {
  grid-template-columns: repeat(3, minmax(0, 1fr));
}
.own {
  grid-template-columns: 120px minmax(0, 1fr) auto;
  margin-top: 10px;
}
.again {
  margin-top: 18px;
}
.reach {
  margin-top: 10px;
}
@media (max-width: 820px) {
  .form {
    grid-template-columns: 1fr 1fr;
  }
}
</style>
