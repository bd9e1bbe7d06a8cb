<script setup lang="ts">
/** The deals of one cause, or what each cause comes to. */
import { computed } from 'vue'
import { figure } from '@/kit/format/format'
import { t, tn } from '@/words'
import { causeHint, causeName, signed } from './causes'
import type { Moved } from './moved'

const props = defineProps<{ moved: Moved; cause: string }>()
const step = computed(() => props.moved.steps.find((each) => each.cause === props.cause))
</script>

<template>
  <p v-if="!moved.steps.length" class="soft">{{ t('forecast.moved.nothing') }}</p>
  <p v-else-if="!step" class="soft">{{ t('forecast.moved.open') }}</p>
  <div v-else class="scroll">
    <table class="list" :aria-label="causeName(step.cause)">
      <thead>
        <tr>
          <th>
            {{ causeName(step.cause) }}
            <small class="soft">{{ causeHint(step.cause) }}</small>
          </th>
          <th class="num">{{ t('forecast.moved.weighted', { currency: moved.currency }) }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(deal, n) in step.deals" :key="deal.id ?? `n${n}`">
          <td v-if="deal.id">
            <RouterLink :to="`/deals/${deal.id}`">{{ deal.title }}</RouterLink>
            <span class="soft"> · {{ deal.customer }}</span>
          </td>
          <td v-else class="soft">{{ t('forecast.moved.notYours') }}</td>
          <td class="num">{{ signed(deal.amount) }}</td>
        </tr>
        <tr v-if="step.others">
          <td class="soft">{{ t('forecast.moved.others') }}</td>
          <td class="num">{{ signed(step.others) }}</td>
        </tr>
      </tbody>
      <tfoot>
        <tr>
          <td>{{ tn('forecast.moved.deals', step.count) }}</td>
          <td class="num">{{ figure(step.amount) }}</td>
        </tr>
      </tfoot>
    </table>
  </div>
</template>

<style scoped>
small {
  margin-left: 8px;
  font-weight: 400;
}
</style>
