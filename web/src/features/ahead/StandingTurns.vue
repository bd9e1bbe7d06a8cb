<script setup lang="ts">
/** Days to come on a line, and days that were answered: ordered, begun, left out. */
import { day } from '@/kit/format/format'
import { t } from '@/words'
import type { Standing } from './queries'

defineProps<{ standing: Standing }>()
</script>

<template>
  <section class="card">
    <template v-if="standing.coming.length">
      <h2>{{ t('ahead.standing.coming') }}</h2>
      <ol class="coming">
        <li v-for="each in standing.coming" :key="each">{{ day(each) }}</li>
      </ol>
    </template>
    <h2>{{ t('ahead.standing.past') }}</h2>
    <p v-if="!standing.turns.length" class="soft">{{ t('ahead.standing.noPast') }}</p>
    <table v-else class="list">
      <tbody>
        <tr v-for="turn in standing.turns" :key="turn.on">
          <td>{{ day(turn.on) }}</td>
          <td>
            <b :class="turn.state">{{ t(`ahead.standing.states.${turn.state}` as never) }}</b>
          </td>
          <td>
            <RouterLink v-if="turn.order_id" :to="`/orders/${turn.order_id}`">{{
              turn.order
            }}</RouterLink>
            <RouterLink v-else-if="turn.revision_id" :to="`/quotes/${turn.revision_id}`">{{
              turn.quote
            }}</RouterLink>
          </td>
          <td class="soft">{{ turn.who }} {{ turn.reason }}</td>
        </tr>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
.coming {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 0;
  padding: 0;
  margin: 4px 0 12px;
  list-style: none;
}
.coming li {
  position: relative;
  padding: 0 18px 0 16px;
}
.coming li::before {
  content: '';
  position: absolute;
  left: 0;
  top: 5px;
  width: 7px;
  height: 7px;
  border: 2px solid var(--ink);
  border-radius: 50%;
}
.ordered {
  color: var(--teal);
}
.open,
.begun {
  color: var(--amber-ink);
}
</style>
