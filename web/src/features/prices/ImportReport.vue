<script setup lang="ts">
/** What a file would bring, and every row that is refused. */
import type { Shapes } from '@/api/client'
import { t, tn } from '@/words'
import { worded } from '@/words/refusals'
import { fieldName } from './queries'

defineProps<{ report: Shapes['ReportOut']; file: string; busy: boolean }>()
const emit = defineEmits<{ keep: []; close: [] }>()
</script>

<template>
  <section class="card fold" role="status">
    <p>
      <b>{{ tn('prices.file.good', report.rows, { good: report.good, file }) }}</b>
      {{ report.faults.length ? t('prices.file.refused') : '' }}
    </p>
    <ul class="faults">
      <li v-for="(f, n) in report.faults" :key="n">
        {{
          t('prices.file.fault', { row: f.row, field: fieldName(f.field), words: worded(f.fault) })
        }}
      </li>
    </ul>
    <p class="acts">
      <ElButton type="primary" :loading="busy" :disabled="!report.good" @click="emit('keep')">{{
        tn('prices.file.take', report.good)
      }}</ElButton>
      <ElButton text @click="emit('close')">{{ t('kit.step.notYet') }}</ElButton>
    </p>
  </section>
</template>

<style scoped>
.faults {
  max-height: 200px;
  overflow: auto;
}
.acts {
  display: flex;
  gap: 8px;
  margin: 10px 0;
}
</style>
