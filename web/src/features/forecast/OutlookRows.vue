<script setup lang="ts">
/** What was won and may be won, a line for each month and quarter, against its target. */
import { computed } from 'vue'
import { figure } from '@/kit/format/format'
import { t, tn } from '@/words'
import { chanceOf, monthKey, nameOf, placesOf, sentenceOf, type Period } from './outlook'

const props = defineProps<{
  periods: Period[]
  /** The same as the deals stand, where something else is thought of them. */
  before?: Period[]
  /** The list of the deals of a month, open or won. */
  deals: (filter: { month: string; state?: string }) => string
}>()
const isOther = (now: Period, before: Period | undefined) =>
  before && (now.low !== before.low || now.high !== before.high || now.middle !== before.middle)
const groups = computed(() =>
  [false, true].map((quarter) => {
    const periods = props.periods.filter((each) => each.quarter === quarter)
    const before = (props.before ?? []).filter((each) => each.quarter === quarter)
    // At one scale, so that what changes is seen.
    const places = placesOf([...periods, ...before])
    return periods.map((period, n) => ({
      period,
      at: places[n]!,
      was: isOther(period, before[n]) ? places[periods.length + n]! : null,
    }))
  }),
)
</script>

<template>
  <ol v-for="(rows, n) in groups" :key="n" class="rows">
    <li v-for="{ period, at, was } in rows" :key="period.first">
      <span class="name">
        <RouterLink v-if="!period.quarter" :to="deals({ month: monthKey(period) })">{{
          nameOf(period)
        }}</RouterLink>
        <template v-else>{{ nameOf(period) }}</template>
        <small class="soft"
          >{{ tn('forecast.outlook.deals', period.count)
          }}<template v-if="Number(period.won)">
            ·
            <RouterLink
              v-if="!period.quarter"
              :to="deals({ month: monthKey(period), state: 'won' })"
              >{{ t('forecast.outlook.wonOf', { amount: figure(period.won) }) }}</RouterLink
            >
            <template v-else>{{
              t('forecast.outlook.wonOf', { amount: figure(period.won) })
            }}</template></template
          ></small
        >
      </span>
      <span class="line" role="img" :aria-label="sentenceOf(period)">
        <i class="won" :style="{ width: `${at.won}%` }" />
        <i
          v-if="was"
          class="was"
          :style="{ left: `${was.low}%`, width: `${was.high - was.low}%` }"
        />
        <i
          v-if="period.count"
          class="range"
          :style="{ left: `${at.low}%`, width: `${at.high - at.low}%` }"
        />
        <i v-if="period.count" class="middle" :style="{ left: `${at.middle}%` }">
          <b>{{ figure(period.middle) }}</b>
        </i>
        <i v-if="at.target !== null" class="target" :style="{ left: `${at.target}%` }" />
      </span>
      <span class="said">
        <template v-if="period.chance !== null && period.target !== null">
          <b>{{ chanceOf(period.chance) }}</b>
          {{ t('forecast.outlook.reach', { target: figure(period.target) }) }}
        </template>
        <span v-else class="soft">{{ t('forecast.outlook.noTarget') }}</span>
      </span>
    </li>
  </ol>
</template>

<style scoped>
.rows {
  margin: 0;
  padding: 0;
  list-style: none;
}
.rows + .rows {
  margin-top: 6px;
  padding-top: 6px;
  border-top: 1px solid var(--rule);
}
li {
  display: grid;
  grid-template-columns: 210px minmax(0, 1fr) 170px;
  gap: 16px;
  align-items: center;
  min-height: 52px;
}
.name,
.said {
  display: flex;
  flex-direction: column;
  line-height: 1.35;
}
.name {
  font-weight: 600;
}
.name a {
  display: inline-block;
  min-height: 24px;
  line-height: 24px;
}
.name small {
  font-weight: 400;
}
.said {
  align-items: flex-end;
}
.line {
  position: relative;
  height: 50px;
  border-radius: 1px;
  background: linear-gradient(var(--rule), var(--rule)) center / 100% 2px no-repeat;
}
.line i {
  position: absolute;
  font-style: normal;
}
.won {
  left: 0;
  top: 20px;
  height: 11px;
  background: var(--ink);
}
.range {
  top: 14px;
  height: 22px;
  min-width: 3px;
  border: 1px solid var(--teal);
  border-radius: 11px;
  background: color-mix(in srgb, var(--teal) 22%, transparent);
}
.was {
  top: 8px;
  height: 34px;
  border: 1.5px dashed var(--ink-2);
  border-radius: 17px;
}
.middle {
  top: 10px;
  width: 4px;
  height: 30px;
  margin-left: -2px;
  background: var(--teal);
}
.middle b {
  position: absolute;
  bottom: 100%;
  left: 8px;
  margin-bottom: -5px;
  font-size: 12px;
  line-height: 1;
  white-space: nowrap;
  color: var(--teal);
  background: var(--sheet);
}
.target {
  top: 15px;
  width: 20px;
  height: 20px;
  margin-left: -10px;
  border: 5px solid var(--coral);
  border-radius: 50%;
  background: var(--sheet);
}
@media print {
  li {
    min-height: 44px;
  }
  .line {
    height: 44px;
    margin-top: 4px;
  }
}
@media screen and (max-width: 820px) {
  li {
    grid-template-columns: 1fr auto;
    height: auto;
    gap: 0 12px;
    padding: 6px 0;
  }
  .line {
    grid-column: 1 / -1;
    grid-row: 2;
  }
}
</style>
