<script setup lang="ts" generic="Report extends { counts: Record<string, number> }">
/** Records from a file: how it is laid out, its trial counted, what is told of it, then taken in. */
import { computed } from 'vue'
import type { Import } from '@/kit/act/useImport'
import FileButton from '@/kit/form/FileButton.vue'
import { figure } from '@/kit/format/format'
import { t, tn } from '@/words'
import { WORDS } from './words'

const props = defineProps<{
  /** What comes from it, whose words are taken. */
  of: 'customers' | 'leads'
  files: Import<Report>
  /** The address of the template, without its ending. */
  template: string
  columns: { heading: string; holds: string }[]
  states: readonly string[]
  /** How many will come in. */
  coming: number
}>()
const emit = defineEmits<{ file: [file: File]; keep: [] }>()
const { file, report, kept, done, busy } = props.files
const words = WORDS[props.of]
const counts = computed(() =>
  props.states
    .map((state) => ({ state, many: report.value?.counts[state] ?? 0 }))
    .filter(({ many }) => many),
)
const many = (n: number) => ({ n: figure(String(n)) })
</script>

<template>
  <section class="card">
    <div class="chips">
      <FileButton
        :label="t('quotes.file.choose')"
        accept=".csv,.xlsx,.vcf"
        primary
        :disabled="busy"
        @file="(chosen) => emit('file', chosen)"
      />
      <a
        v-for="kind in ['xlsx', 'csv'] as const"
        :key="kind"
        class="btn small"
        :href="`${template}.${kind}`"
        download
        >{{ t('quotes.file.template', { format: t(`customers.file.kinds.${kind}`) }) }}</a
      >
    </div>
    <p v-if="busy" role="status">
      {{
        done
          ? tn(words.looked, done, { file: file?.name, ...many(done) })
          : t('quotes.file.read', { file: file?.name })
      }}
    </p>
    <template v-if="!report && !busy">
      <p>{{ t(words.how) }}</p>
      <dl>
        <template v-for="c in columns" :key="c.heading">
          <dt>{{ c.heading }}</dt>
          <dd>{{ c.holds }}</dd>
        </template>
      </dl>
    </template>
    <template v-if="report">
      <p role="status" class="counts">
        <b>{{ t(kept ? 'customers.file.isIn' : 'customers.file.tried', { file: file?.name }) }}</b>
        <span v-for="each in counts" :key="each.state" :class="each.state">{{
          tn(words.state(each.state), each.many, many(each.many))
        }}</span>
      </p>
      <slot :report="report" :kept="kept" />
      <p v-if="!kept" class="chips">
        <ElButton type="primary" :loading="busy" :disabled="!coming" @click="emit('keep')">{{
          tn(words.keep, coming, many(coming))
        }}</ElButton>
        <ElButton text @click="files.letGo">{{ t('kit.step.notYet') }}</ElButton>
      </p>
    </template>
  </section>
</template>

<style scoped>
.chips {
  margin-bottom: 8px;
}
.counts {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 18px;
  margin: 10px 0;
}
.double {
  color: var(--amber-ink);
  font-weight: 700;
}
.refused {
  color: var(--red);
  font-weight: 700;
}
dl {
  display: grid;
  grid-template-columns: max-content 1fr max-content 1fr;
  gap: 3px 16px;
  margin-top: 10px;
}
dt {
  font-weight: 600;
}
@media (max-width: 820px) {
  dl {
    grid-template-columns: max-content 1fr;
  }
}
</style>
