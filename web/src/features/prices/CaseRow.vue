<script setup lang="ts">
/** A kept case, and what its last run found. */
import { computed } from 'vue'
import type { Shapes } from '@/api/client'
import { day, figure } from '@/kit/format/format'
import SureButton from '@/kit/step/SureButton.vue'
import { t, tn } from '@/words'
import { worded } from '@/words/refusals'

const props = defineProps<{
  row: Shapes['CaseOut']
  /** What its run found; nothing where it holds. */
  run?: Shapes['RunsOut']['runs'][number]
  /** Whether it was run at all. */
  ran: boolean
  busy: boolean
}>()
const emit = defineEmits<{ expect: []; letGo: [] }>()
const verdict = computed(() => {
  if (!props.ran && !props.run) return ''
  if (!props.run) return t('prices.cases.holds')
  return props.run.fault
    ? t('prices.cases.cannot')
    : tn('prices.cases.moved', props.run.differences.length)
})
</script>

<template>
  <tr>
    <td>
      <b>{{ row.name }}</b>
    </td>
    <td>{{ row.customer }}</td>
    <td>{{ day(row.on) }}</td>
    <td class="num">{{ row.lines }}</td>
    <td class="num">{{ figure(row.net) }}</td>
    <td class="num">{{ figure(row.payable) }}</td>
    <td class="soft">{{ row.currency }}</td>
    <td>{{ row.kept_by }}</td>
    <td :class="{ late: run }">{{ verdict }}</td>
    <td>
      <SureButton
        :label="t('prices.cases.letGo')"
        :question="t('prices.cases.letGoQuestion')"
        :act="t('prices.cases.letGoAct')"
        :disabled="busy"
        @go="emit('letGo')"
      />
    </td>
  </tr>
  <tr v-if="run">
    <td colspan="10" class="fold">
      <p v-if="run.fault">{{ worded(run.fault) }}</p>
      <template v-else>
        <ul>
          <li v-for="d in run.differences" :key="d.where">
            {{
              t('prices.cases.difference', {
                where: d.where,
                expected: figure(d.expected),
                found: figure(d.found),
              })
            }}
          </li>
        </ul>
        <ElButton size="small" :disabled="busy" @click="emit('expect')">{{
          t('prices.cases.expect')
        }}</ElButton>
      </template>
    </td>
  </tr>
</template>
