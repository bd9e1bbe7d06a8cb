<script setup lang="ts">
/** A customer: standing, open items by age, people and places, deals, every document. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, take } from '@/api/client'
import ActivityCard from '@/parts/diary/ActivityCard.vue'
import EmptyState from '@/kit/show/EmptyState.vue'
import { count, day, figure, size } from '@/kit/format/format'
import LoadState from '@/kit/show/LoadState.vue'
import { complain } from '@/kit/act/notices'
import { me } from '@/api/session'
import SheetHead from '@/parts/route/SheetHead.vue'
import StandingStrip from '@/parts/customer/StandingStrip.vue'

const route = useRoute()
const router = useRouter()
const id = Number(route.params.id)
const { data, error, refetch } = useQuery({
  queryKey: ['customer', id],
  queryFn: () =>
    take(api.GET('/api/customers/{customer_id}', { params: { path: { customer_id: id } } })),
})
const AGES = [
  ['not_due', 'Not due', 'var(--teal)'],
  ['1_30', '1–30', 'var(--amber)'],
  ['31_60', '31–60', 'var(--coral)'],
  ['61_90', '61–90', 'var(--coral)'],
  ['over_90', 'over 90', 'var(--red)'],
] as const
const widest = computed(() =>
  Math.max(1, ...AGES.map(([key]) => size(data.value?.standing.buckets[key] ?? '0'))),
)
const terms = computed(() => data.value?.terms_words ?? '')
const KINDS: Record<string, string> = {
  quote: 'Quote',
  order: 'Order',
  invoice: 'Invoice',
  credit: 'Credit note',
}
const shown = ref('')
const documents = computed(() =>
  (data.value?.documents ?? []).filter((d) => !shown.value || d.kind === shown.value),
)
const person = ref({ name: '', role: '', email: '', phone: '' })
const adding = ref<'' | 'person' | 'place'>('')
const place = ref(emptyPlace())

async function startQuote(): Promise<void> {
  try {
    const made = await take(api.POST('/api/quotes', { body: { customer_id: id } }))
    await router.push(`/quotes/${made.id}`)
  } catch (fault) {
    complain(fault)
  }
}
async function addPerson(): Promise<void> {
  try {
    await take(
      api.POST('/api/customers/{customer_id}/contacts', {
        params: { path: { customer_id: id } },
        body: person.value,
      }),
    )
    person.value = { name: '', role: '', email: '', phone: '' }
    adding.value = ''
    await refetch()
  } catch (fault) {
    complain(fault)
  }
}
function emptyPlace() {
  return {
    kind: 'delivery' as 'delivery' | 'invoice',
    label: '',
    street: '',
    postcode: '',
    town: '',
    country: 'QF',
  }
}
async function addPlace(): Promise<void> {
  try {
    await take(
      api.POST('/api/customers/{customer_id}/addresses', {
        params: { path: { customer_id: id } },
        body: place.value,
      }),
    )
    place.value = emptyPlace()
    adding.value = ''
    await refetch()
  } catch (fault) {
    complain(fault)
  }
}
</script>

<template>
  <div class="page">
    <LoadState v-if="!data" :error="error" @again="refetch()" />
    <template v-else>
      <SheetHead :title="data.name">
        {{ data.number }} · {{ data.kind }} · {{ data.price_list }} ({{ data.currency }})
        <template v-if="data.parent_id">
          · member of
          <RouterLink :to="`/customers/${data.parent_id}`">{{ data.parent }}</RouterLink></template
        >
        · {{ terms }} · {{ data.owner }}
        <template v-if="me?.sells" #side>
          <RouterLink class="btn" :to="`/deals/new?customer=${id}`">New deal</RouterLink>
          <button class="btn act" @click="startQuote">Start a quote</button>
        </template>
      </SheetHead>
      <StandingStrip :standing="data.standing">
        <div>
          <dt>Days to pay</dt>
          <dd>
            {{ data.days_to_pay ? count(Number(data.days_to_pay), 'day') : '—' }}
            <small v-if="data.days_to_pay_before" class="soft"
              >before {{ figure(data.days_to_pay_before) }}</small
            >
          </dd>
        </div>
      </StandingStrip>
      <div class="columns">
        <section class="card">
          <header>
            <h2>Open items by age</h2>
            <span class="soft"
              >{{ count(data.open_items.length, 'item') }}, {{ data.standing.currency }}</span
            >
          </header>
          <dl class="ages">
            <template v-for="[key, name, colour] in AGES" :key="key">
              <dt>{{ name }}</dt>
              <dd>
                <i
                  :style="{
                    width: `${(size(data.standing.buckets[key] ?? '0') / widest) * 62}%`,
                    background: colour,
                  }"
                /><b>{{ figure(data.standing.buckets[key]) }}</b>
              </dd>
            </template>
          </dl>
          <EmptyState v-if="!data.open_items.length" title="Everything is paid"
            >Open invoices stand here.</EmptyState
          >
          <table v-else class="list">
            <thead>
              <tr>
                <th>Invoice</th>
                <th>Of</th>
                <th>Due</th>
                <th class="num">Amount</th>
                <th class="num">Open</th>
                <th>Late</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="item in data.open_items" :key="item.number">
                <td>
                  <RouterLink v-if="item.order_id" :to="`/orders/${item.order_id}`">{{
                    item.number
                  }}</RouterLink>
                  <template v-else>{{ item.number }}</template>
                </td>
                <td>{{ day(item.on) }}</td>
                <td>{{ day(item.due_on) }}</td>
                <td class="num">{{ figure(item.gross) }}</td>
                <td class="num">{{ figure(item.open) }}</td>
                <td>
                  <span v-if="item.days_late" class="late">{{
                    count(item.days_late, 'day')
                  }}</span><span v-else>–</span>
                </td>
              </tr>
            </tbody>
          </table>
          <template v-if="me?.sells">
            <header class="again"><h2>Deals</h2></header>
            <EmptyState v-if="!data.deals.length" title="No deal yet">
              <RouterLink :to="`/deals/new?customer=${id}`">Make the first one</RouterLink>
            </EmptyState>
            <div v-else class="long" tabindex="0" role="region" aria-label="Deals">
              <table class="list">
                <tbody>
                  <tr
                    v-for="deal in data.deals"
                    :key="deal.id"
                    class="goes"
                    @click="router.push(`/deals/${deal.id}`)"
                  >
                    <td>
                      <RouterLink class="whole" :to="`/deals/${deal.id}`" @click.stop>{{
                        deal.title
                      }}</RouterLink>
                    </td>
                    <td>{{ deal.stage_name }}</td>
                    <td :class="{ late: deal.overdue }">{{ day(deal.decision_on) }}</td>
                    <td class="num">{{ figure(deal.amount) }}</td>
                  </tr>
                </tbody>
              </table>
            </div>
          </template>
        </section>
        <div class="stack">
          <section class="card">
            <header>
              <h2>Documents</h2>
              <span class="chips">
                <button
                  v-for="(name, key) in { '': 'All', ...KINDS }"
                  :key="key"
                  class="btn small"
                  :aria-pressed="shown === key"
                  @click="shown = key"
                >
                  {{ name }}
                </button>
              </span>
            </header>
            <EmptyState v-if="!documents.length" title="No document yet"
              >Quotes, orders and invoices stand here.</EmptyState
            >
            <div v-else class="long" tabindex="0" role="region" aria-label="Documents">
              <table class="list">
                <tbody>
                  <tr v-for="d in documents" :key="d.kind + d.number">
                    <td>
                      <RouterLink v-if="d.to" :to="d.to"
                        >{{ KINDS[d.kind] }} {{ d.number }}</RouterLink
                      >
                      <template v-else>{{ KINDS[d.kind] }} {{ d.number }}</template>
                    </td>
                    <td>{{ day(d.on) }}</td>
                    <td class="num">{{ figure(d.amount) }} {{ d.currency }}</td>
                    <td>{{ d.state }}</td>
                  </tr>
                </tbody>
              </table>
            </div>
          </section>
          <section class="card">
            <header>
              <h2>People and places</h2>
              <span v-if="me?.sells" class="chips">
                <button class="btn small" @click="adding = adding === 'person' ? '' : 'person'">
                  Add a person
                </button>
                <button class="btn small" @click="adding = adding === 'place' ? '' : 'place'">
                  Add a place
                </button>
              </span>
            </header>
            <form v-if="adding === 'place'" class="form fold" @submit.prevent="addPlace">
              <label class="field"
                ><span>For</span
                ><select v-model="place.kind" class="input" name="kind">
                  <option value="delivery">deliveries</option>
                  <option value="invoice">invoices</option>
                </select></label
              >
              <label class="field"
                ><span>Known as</span
                ><input v-model="place.label" class="input" name="label" maxlength="60"
              /></label>
              <label class="field"
                ><span>Street</span
                ><input v-model="place.street" class="input" name="street" required maxlength="120"
              /></label>
              <label class="field"
                ><span>Postcode</span
                ><input v-model="place.postcode" class="input" name="postcode" maxlength="16"
              /></label>
              <label class="field"
                ><span>Town</span
                ><input v-model="place.town" class="input" name="town" required maxlength="80"
              /></label>
              <label class="field"
                ><span>Country, two letters</span
                ><input
                  v-model="place.country"
                  class="input"
                  name="country"
                  required
                  pattern="[A-Z]{2}"
                  maxlength="2"
              /></label>
              <button class="btn">Add</button>
            </form>
            <form v-if="adding === 'person'" class="form fold" @submit.prevent="addPerson">
              <label class="field"
                ><span>Name</span
                ><input v-model="person.name" class="input" required maxlength="80"
              /></label>
              <label class="field"
                ><span>Role</span><input v-model="person.role" class="input" maxlength="60"
              /></label>
              <label class="field"
                ><span>Mail</span><input v-model="person.email" class="input" type="email"
              /></label>
              <label class="field"
                ><span>Phone</span><input v-model="person.phone" class="input" maxlength="40"
              /></label>
              <button class="btn">Add</button>
            </form>
            <p v-if="!data.contacts.length && !data.addresses.length" class="soft">
              Nobody yet. An order needs a place to go to.
            </p>
            <table class="list">
              <tbody>
                <tr v-for="c in data.contacts" :key="`c${c.id}`">
                  <td>
                    <b>{{ c.name }}</b>{{ c.role ? `, ${c.role}` : '' }}
                  </td>
                  <td>
                    <a :href="`mailto:${c.email}`">{{ c.email }}</a>
                  </td>
                  <td class="num">
                    <a :href="`tel:${c.phone}`">{{ c.phone }}</a>
                  </td>
                </tr>
                <tr v-for="a in data.addresses" :key="`a${a.id}`">
                  <td colspan="2">
                    {{ a.label ? `${a.label}, ` : '' }}{{ a.street }}, {{ a.postcode }}
                    {{ a.town }},
                    {{ a.country }}
                  </td>
                  <td class="soft">{{ a.kind === 'invoice' ? 'invoices' : 'deliveries' }}</td>
                </tr>
              </tbody>
            </table>
          </section>
          <ActivityCard
            v-if="me?.sells"
            :activities="data.activities"
            :customer-id="id"
            @changed="refetch()"
          />
        </div>
      </div>
    </template>
  </div>
</template>

<style scoped>
.stack {
  display: flex;
  flex-direction: column;
  gap: 14px;
}
.ages {
  display: grid;
  grid-template-columns: 70px 1fr;
  gap: 4px 12px;
  margin: 4px 0 12px;
  align-items: center;
}
.ages dt {
  font-size: 12px;
  text-align: right;
}
.ages dd {
  display: flex;
  align-items: center;
  gap: 8px;
}
.ages i {
  height: 14px;
  min-width: 2px;
}
.ages b {
  font-size: 12px;
}
.again {
  margin-top: 16px;
}
.long {
  max-height: 264px;
  overflow: auto;
}
dd small {
  font-size: 12px;
  font-weight: 400;
}
</style>
