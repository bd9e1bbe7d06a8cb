<script setup lang="ts">
/** Departures down a line: who rides on each as parts of a carriage, what is free at its end. */
import { computed } from 'vue'
import type { Shapes } from '@/api/client'
import { day, figure, size } from '@/kit/format/format'
import { t, tn } from '@/words'

const props = defineProps<{ plan: Shapes['DepotPlan']; unit: string }>()
/** A part is at least so wide, in percent of the longest carriage, that its name can be read. */
const LEAST = 11

const rows = computed(() => {
  const longest = Math.max(...props.plan.departures.map((each) => size(each.quantity)), 0) || 1
  return props.plan.departures.map((each, n) => {
    const free = size(each.free)
    const width = (quantity: number) => `${Math.max(LEAST, (quantity / longest) * 100)}%`
    return {
      ...each,
      first: n === 0,
      parts: each.riders.map((rider) => ({ ...rider, width: width(size(rider.quantity)) })),
      rest: free > 0 ? width(free) : '',
      lacking: free < 0,
    }
  })
})
const facts = (row: Shapes['DepartureOut'], first: boolean) =>
  first
    ? t('promise.page.onHand', { depot: props.plan.depot })
    : t('promise.page.receipt', {
        number: row.receipt,
        sure: t(row.sure ? 'promise.page.sure' : 'promise.page.notSure'),
      })
</script>

<template>
  <ol class="card departures">
    <li v-for="row in rows" :key="row.on" :class="{ first: row.first, unsure: !row.sure }">
      <div class="when">
        <b>{{ row.first ? t('promise.page.today') : day(row.on) }}</b>
        <span class="soft">{{ facts(row, row.first) }}</span>
      </div>
      <div class="carriage" :class="{ lacking: row.lacking }">
        <span
          v-for="(part, n) in row.parts"
          :key="n"
          class="part"
          :style="{ flexBasis: part.width }"
          :title="part.order ? `${part.name} · ${part.order}` : undefined"
        >
          <RouterLink v-if="part.order_id" class="whose" :to="`/orders/${part.order_id}`">{{
            part.name
          }}</RouterLink>
          <span v-else class="whose">{{ part.name || t('promise.page.someone') }}</span>{{ ' '
          }}<span class="much">{{ figure(part.quantity) }}</span>
        </span>
        <span v-if="row.rest" class="free" :style="{ flexBasis: row.rest }">{{
          t('promise.page.free', { free: figure(row.free) })
        }}</span>
        <span v-else-if="row.lacking" class="late">{{
          t('promise.short', { missing: figure(row.free.replace('-', '')) })
        }}</span>
      </div>
      <span class="soft num">{{ figure(row.quantity) }} {{ unit }}</span>
    </li>
    <li v-if="plan.again" class="unsure again">
      <div class="when">
        <b>{{ day(plan.again) }}</b>
        <span class="soft">{{ t('promise.page.again') }}</span>
      </div>
      <span class="soft">{{ tn('promise.page.lead', plan.lead_days ?? 0) }}</span>
      <span />
    </li>
  </ol>
</template>

<style scoped>
.departures {
  padding: 8px 20px;
}
li {
  display: grid;
  grid-template-columns: 230px minmax(0, 1fr) 110px;
  gap: 10px;
  align-items: center;
  min-height: 72px;
  position: relative;
}
.when {
  position: relative;
  display: flex;
  flex-direction: column;
  padding-right: 42px;
}
.when::before {
  content: '';
  position: absolute;
  right: 18px;
  top: -24px;
  bottom: -24px;
  border-left: 5px solid var(--ink);
}
.unsure .when::before {
  border-left-style: dotted;
}
li:first-child .when::before {
  top: 50%;
}
li:last-child .when::before {
  bottom: 50%;
}
.when::after {
  content: '';
  position: absolute;
  right: 12px;
  top: calc(50% - 9px);
  width: 17px;
  height: 17px;
  border: 3.5px solid var(--ink);
  border-radius: 50%;
  background: var(--sheet);
}
.first .when::after {
  border-color: var(--coral);
}
.carriage {
  display: flex;
  width: fit-content;
  max-width: 100%;
  min-width: 40px;
  min-height: 40px;
  border: 2px solid var(--ink);
  border-radius: 5px 20px 20px 5px;
  overflow: hidden;
  container-type: normal;
}
li .carriage {
  width: 100%;
  border-color: transparent;
}
.carriage > span {
  display: flex;
  align-items: center;
  gap: 4px;
  padding: 4px 9px;
  font-size: 12.5px;
  font-weight: 600;
  overflow: hidden;
  white-space: nowrap;
  border: 2px solid var(--ink);
  border-left-width: 0;
  flex: 0 1 auto;
}
.carriage > span:first-child {
  border-left-width: 2px;
  border-radius: 5px 0 0 5px;
}
.carriage > span:last-child {
  border-radius: 0 20px 20px 0;
}
.carriage > span:only-child {
  border-radius: 5px 20px 20px 5px;
}
.whose {
  min-width: 0;
  overflow: hidden;
  text-overflow: ellipsis;
}
.much {
  flex: none;
}
.part {
  background: var(--teal-soft, color-mix(in srgb, var(--teal) 15%, var(--sheet)));
}
.carriage > .free {
  background: var(--paper);
  color: var(--ink-2);
  font-weight: 500;
}
.carriage > .late {
  border-color: var(--red);
}
.again {
  min-height: 52px;
}
@media (max-width: 820px) {
  li {
    grid-template-columns: 1fr;
    padding: 8px 0;
  }
  .when {
    padding-right: 0;
  }
  .when::before,
  .when::after {
    display: none;
  }
}
</style>
