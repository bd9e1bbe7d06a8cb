<script setup lang="ts">
/** The lines of an order, with their locked prices, and how much of each was shipped. */
import { computed, toRef, watch } from 'vue'
import { me } from '@/api/session'
import { day, figure, isNothing } from '@/kit/format/format'
import { per } from '@/parts/line/per'
import OtherWays from '@/parts/promise/OtherWays.vue'
import PromiseWord from '@/parts/promise/PromiseWord.vue'
import { useOrderPromises } from '@/parts/promise/useOrderPromises'
import { maybe, t } from '@/words'
import { isOpen } from './change'
import LineDay from './LineDay.vue'
import LineGoods from './LineGoods.vue'
import PriceAgain from './PriceAgain.vue'
import type { Order } from './queries'

const props = defineProps<{ order: Order; busy: boolean }>()
const emit = defineEmits<{
  again: [seen: { mark: string; payable: string }]
  goods: [line: number]
  newDay: [line: number]
}>()
const units = computed(() => props.order.unit_names)
const perOf = (line: Order['lines'][number]) =>
  per({ price: line.price, per: line.per, unit: line.price_unit }, line.unit, units.value)
/** A cancelled order gets nothing. */
const gone = computed(() => props.order.cancelled_at !== null)
/** What can be promised now of what has not left; what was promised stands beside it. */
const { byLine, refetch } = useOrderPromises(
  toRef(() => props.order.id),
  computed(() => !gone.value && props.order.lines.some((line) => line.shipped !== line.quantity)),
)
/** An answer of the back office may have changed them. */
watch(
  () => props.order.version,
  () => void refetch(),
)
/** What is short, late, or slips: something else may be sooner. */
const asksMore = (line: Order['lines'][number]) => {
  const now = byLine.value.get(line.id)
  return !!now && (now.late || now.kind === 'short' || !!line.outlook)
}
function saidOf(line: Order['lines'][number]): string {
  if (line.missing) return t('orders.wasShort', { missing: figure(line.missing) })
  return line.promised_on ? t('orders.promised', { day: day(line.promised_on) }) : ''
}
type Address = Order['delivery_address']
const placeOf = (a: Address) =>
  a ? [a.label, a.street, `${a.postcode} ${a.town}`].filter(Boolean).join(', ') : ''
const place = computed(() => placeOf(props.order.delivery_address))
/** What of a line is not as the order says: its quote, its day, its place. */
function whereOf(line: Order['lines'][number]): string {
  const { quotes, requested_on } = props.order
  return [
    quotes.length > 1 && t('orders.quote', { number: line.quote }),
    line.wanted_on &&
      line.wanted_on !== requested_on &&
      t('orders.wantedBy', { day: day(line.wanted_on) }),
    line.delivery_address && t('orders.to', { place: placeOf(line.delivery_address) }),
  ]
    .filter(Boolean)
    .join(' · ')
}
</script>

<template>
  <section class="card">
    <header>
      <h2>{{ t('desk.grid.label') }}</h2>
      <PriceAgain
        v-if="me?.sells && !gone"
        :order="order"
        :busy="busy"
        @take="(seen) => emit('again', seen)"
      />
      <span v-else class="soft">{{ t('orders.locked') }}</span>
    </header>
    <div class="scroll">
      <table class="list">
        <thead>
          <tr>
            <th>#</th>
            <th>{{ t('desk.grid.item') }}</th>
            <th>{{ t('desk.grid.what') }}</th>
            <th class="num">{{ t('desk.grid.quantity') }}</th>
            <th>{{ t('desk.grid.unit') }}</th>
            <th class="num">{{ t('desk.grid.price') }}</th>
            <th class="num">{{ t('desk.grid.discount') }}</th>
            <th class="num">{{ t('desk.sums.net') }}</th>
            <th class="num">{{ t('orders.shipped') }}</th>
            <th>{{ t('orders.stands') }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="line in order.lines" :key="line.position">
            <td class="soft">{{ line.position }}</td>
            <td class="code">{{ line.item }}</td>
            <td>
              {{ line.text }}
              <small v-if="whereOf(line)" class="soft where">{{ whereOf(line) }}</small>
            </td>
            <td class="num">
              {{ figure(line.quantity)
              }}<small v-if="line.first_quantity" class="soft where">{{
                t('orders.firstOrdered', { quantity: figure(line.first_quantity) })
              }}</small>
            </td>
            <td>{{ units[line.unit] ?? line.unit }}</td>
            <td class="num">
              {{ figure(line.price) }}<small class="soft">{{ perOf(line) }}</small>
            </td>
            <td class="num">
              {{ line.discount_percent ? `${figure(line.discount_percent)} %` : '' }}
            </td>
            <td class="num">{{ figure(line.net) }}</td>
            <td class="num soft">
              {{ line.service ? t('orders.service') : figure(line.shipped)
              }}<small v-if="!isNothing(line.returned)" class="where">{{
                t('orders.cameBack', { quantity: figure(line.returned) })
              }}</small>
            </td>
            <td class="promised">
              <span
                v-if="!gone && !(line.stage === 'ordered' && byLine.get(line.id))"
                class="stage"
                :class="line.stage"
                >{{ maybe(`orders.stage.${line.stage}`) }}</span
              >
              <template v-if="!gone && isOpen(line) && !line.service">
                <RouterLink
                  v-if="byLine.get(line.id)"
                  :to="`/items/${line.item_id}?customer=${order.customer_id}`"
                  ><PromiseWord :promise="byLine.get(line.id)!"
                /></RouterLink>
                <small class="soft">{{ saidOf(line) }}</small>
                <LineDay
                  v-if="line.outlook && me?.sells"
                  :order="order"
                  :line="line"
                  :busy="busy"
                  @promise="(id) => emit('newDay', id)"
                />
                <details v-if="asksMore(line)">
                  <summary>{{ t('promise.else.open') }}</summary>
                  <OtherWays :order="order.id" :line="line.id" :item="line.item_id" />
                </details>
                <LineGoods
                  :order="order"
                  :line="line"
                  :busy="busy"
                  @ask="(id) => emit('goods', id)"
                />
              </template>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-if="place" class="soft place">
      {{ t('orders.to', { place }) }}
      <template v-if="order.requested_on">
        · {{ t('orders.wantedBy', { day: day(order.requested_on) }) }}</template
      >
    </p>
  </section>
</template>

<style scoped>
header {
  flex-wrap: wrap;
}
.where,
.promised small {
  display: block;
}
.place {
  margin-top: 8px;
}
.code {
  white-space: nowrap;
}
.stage {
  display: block;
  padding-left: 8px;
  border-left: 4px solid var(--ink-2);
  white-space: nowrap;
}
.stage:is(.shipped, .invoiced, .paid) {
  border-color: var(--teal);
}
.stage:is(.short, .returned) {
  border-color: var(--amber);
}
</style>
