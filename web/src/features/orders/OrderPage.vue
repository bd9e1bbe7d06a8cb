<script setup lang="ts">
/** An order: its Route, the handover, what the back office says, its locked lines. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import { Fault, api, take, type Shapes } from '@/api/client'
import { clock, day, figure, moment, size } from '@/kit/format/format'
import EmptyState from '@/kit/show/EmptyState.vue'
import LoadState from '@/kit/show/LoadState.vue'
import { complain } from '@/kit/act/notices'
import { me } from '@/api/session'
import SheetHead from '@/parts/route/SheetHead.vue'
import StandingStrip from '@/parts/customer/StandingStrip.vue'
import SumBar from '@/kit/show/SumBar.vue'

const route = useRoute()
const client = useQueryClient()
const id = Number(route.params.id)
const busy = ref(false)
const { data, error, refetch } = useQuery({
  queryKey: ['order', id],
  queryFn: () => take(api.GET('/api/orders/{order_id}', { params: { path: { order_id: id } } })),
  refetchInterval: (query) => (query.state.data?.state === 'paid' ? 30_000 : 1500),
})
const sums = computed(() => {
  const o = data.value
  if (!o) return []
  return [
    { label: 'Lines', value: figure(o.lines_net) },
    {
      label: 'Discount',
      value: size(o.document_discount) ? `−${figure(o.document_discount)}` : '—',
    },
    ...o.charges.map((row) => ({ label: row.name, value: figure(row.amount) })),
    { label: 'Net', value: figure(o.net) },
    { label: 'Tax', value: figure(o.tax_total) },
    ...(size(o.payable_rounding) ? [{ label: 'Rounding', value: figure(o.payable_rounding) }] : []),
    { label: `Payable ${o.currency}`, value: figure(o.payable), main: true },
  ]
})
const NEWS: Record<string, string> = {
  taken: 'Taken by the back office',
  held: 'Held for credit',
  released: 'Released',
  shipped: 'Shipped',
  invoiced: 'Invoiced',
  paid: 'Paid',
}
const sentence = computed(() => {
  const h = data.value?.handover
  if (!h) return 'Not handed over yet.'
  if (h.state === 'taken') return `Taken as ${h.backoffice_number}.`
  if (h.state === 'refused') return `Refused: ${h.last_error}`
  if (h.state === 'held') return `Held by the back office. ${h.last_error}`
  if (h.state === 'under_way') return 'On its way to the back office.'
  return h.tries
    ? `Waiting. ${h.last_error} Tried ${h.tries} times; next try at ${clock(h.next_try_at)}.`
    : 'Waiting for its turn.'
})

async function act(asked: Promise<Shapes['OrderOut']>): Promise<void> {
  busy.value = true
  try {
    client.setQueryData(['order', id], await asked)
    void client.invalidateQueries({ queryKey: ['orders'] })
  } catch (fault) {
    complain(fault)
    if (fault instanceof Fault && fault.status === 409) await refetch()
  } finally {
    busy.value = false
  }
}
const handOver = () =>
  act(
    take(
      api.POST('/api/orders/{order_id}/handover', {
        params: { path: { order_id: id } },
        body: {
          version: data.value?.version ?? 0,
          seen: { mark: data.value?.mark ?? '', payable: data.value?.payable ?? '' },
        },
      }),
    ),
  )
const again = () =>
  act(
    take(
      api.POST('/api/handovers/{handover_id}/again', {
        params: { path: { handover_id: data.value?.handover?.id ?? 0 } },
        body: { version: data.value?.handover?.version ?? 0 },
      }),
    ),
  )
function per(line: Shapes['OrderLineOut'], units: Record<string, string>): string {
  if (line.per === '1' && line.price_unit === line.unit) return ''
  return ` /${line.per === '1' ? '' : `${figure(line.per)} `}${units[line.price_unit] ?? line.price_unit}`
}
</script>

<template>
  <div class="page with-bar">
    <LoadState v-if="!data" :error="error" :rows="12" @again="refetch()" />
    <template v-else>
      <SheetHead :title="data.customer" :stops="data.route">
        Order {{ data.number }} · <b>{{ data.state_name }}</b> · from
        <RouterLink v-if="me?.sells" :to="`/quotes/${data.quote_revision_id}`"
          >quote {{ data.quote_number }}</RouterLink
        ><template v-else>quote {{ data.quote_number }}</template> · accepted
        {{ day(data.accepted_on) }}
        <template v-if="data.buyer_reference"> · their number {{ data.buyer_reference }}</template>
        <template #side>
          <RouterLink
            v-if="data.deal_id && me?.sells"
            class="soft"
            :to="`/deals/${data.deal_id}`"
            >{{ data.deal }}</RouterLink
          >
        </template>
      </SheetHead>
      <StandingStrip :standing="data.standing" :to="`/customers/${data.customer_id}`" />
      <div class="columns">
        <section class="card">
          <header>
            <h2>Lines</h2>
            <span class="soft">prices locked as accepted</span>
          </header>
          <div class="scroll">
            <table class="list">
              <thead>
                <tr>
                  <th>#</th>
                  <th>Item</th>
                  <th>What</th>
                  <th class="num">Quantity</th>
                  <th>Unit</th>
                  <th class="num">Price</th>
                  <th class="num">Disc. %</th>
                  <th class="num">Net</th>
                  <th class="num">Shipped</th>
                </tr>
              </thead>
              <tbody>
                <tr v-for="line in data.lines" :key="line.position">
                  <td class="soft">{{ line.position }}</td>
                  <td>{{ line.item }}</td>
                  <td>{{ line.text }}</td>
                  <td class="num">{{ figure(line.quantity) }}</td>
                  <td>{{ data.unit_names[line.unit] ?? line.unit }}</td>
                  <td class="num">
                    {{ figure(line.price)
                    }}<small class="soft">{{ per(line, data.unit_names) }}</small>
                  </td>
                  <td class="num">
                    {{ line.discount_percent ? figure(line.discount_percent) : '' }}
                  </td>
                  <td class="num">{{ figure(line.net) }}</td>
                  <td class="num soft">{{ line.service ? 'service' : figure(line.shipped) }}</td>
                </tr>
              </tbody>
            </table>
          </div>
          <p v-if="data.delivery_address" class="soft place">
            To {{ data.delivery_address.label ? `${data.delivery_address.label}, ` : ''
            }}{{ data.delivery_address.street }}, {{ data.delivery_address.postcode }}
            {{ data.delivery_address.town }}
            <template v-if="data.requested_on"> · wanted by {{ day(data.requested_on) }}</template>
          </p>
        </section>
        <section class="card" aria-live="polite">
          <header>
            <h2>Handover</h2>
            <span class="soft">by itself, once</span>
          </header>
          <p :class="{ fault: ['refused', 'held'].includes(data.handover?.state ?? '') }">
            {{ sentence }}
          </p>
          <p v-if="me?.fulfils && ['refused', 'waiting'].includes(data.handover?.state ?? '')">
            <button class="btn small" :disabled="busy" @click="again">Send again now</button>
          </p>
          <EmptyState v-if="!data.news.length" title="No news yet">
            Taken, shipped, invoiced, paid: the back office's news appears here by itself.
          </EmptyState>
          <ol v-else class="news">
            <li v-for="item in data.news" :key="item.kind + item.at">
              <span class="dot" :class="item.kind" aria-hidden="true" />
              <b>{{ NEWS[item.kind] ?? item.kind }}</b>
              <span>{{ item.number }}</span>
              <span class="num">{{ item.amount ? figure(item.amount) : '' }}</span>
              <small class="soft num">{{ moment(item.at) }}</small>
            </li>
          </ol>
          <template v-if="data.invoices.length">
            <header class="again"><h2>Invoices</h2></header>
            <table class="list">
              <tbody>
                <tr v-for="i in data.invoices" :key="i.number">
                  <td>{{ i.number }}</td>
                  <td class="soft">due {{ day(i.due_on) }}</td>
                  <td class="num">{{ figure(i.gross) }}</td>
                  <td class="num">{{ size(i.open) ? `${figure(i.open)} open` : 'settled' }}</td>
                </tr>
              </tbody>
            </table>
          </template>
        </section>
      </div>
      <SumBar :sums="sums">
        <button
          v-if="!data.handover && me?.sells"
          class="btn step"
          :disabled="busy"
          @click="handOver"
        >
          Hand over
        </button>
        <span v-else class="state">{{ data.state_name }}</span>
      </SumBar>
    </template>
  </div>
</template>

<style scoped>
.columns {
  grid-template-columns: minmax(0, 1.9fr) minmax(0, 1fr);
}
@media (max-width: 980px) {
  .columns {
    grid-template-columns: minmax(0, 1fr);
  }
}
.place {
  margin-top: 8px;
}
.again {
  margin-top: 14px;
}
.news li {
  display: grid;
  grid-template-columns: 14px auto 1fr auto;
  gap: 2px 9px;
  align-items: center;
  padding: 5px 0;
  border-bottom: 1px solid var(--rule);
}
.news small {
  grid-column: 2 / -1;
  text-align: left;
  font-size: 12px;
}
.dot {
  width: 11px;
  height: 11px;
  border-radius: 50%;
  background: var(--teal);
}
.dot.held {
  background: var(--red);
  border-radius: 2px;
}
.state {
  font-size: 17px;
  font-weight: 700;
}
</style>
