<script setup lang="ts">
/** A mail that was read: sure lines and doubtful ones apart, then what was not taken and what was not read. */
import { computed } from 'vue'
import type { Shapes } from '@/api/client'
import { maybe, t } from '@/words'
import MailLineRow from './MailLineRow.vue'
import type { MailLine } from './mailLines'

const lines = defineModel<MailLine[]>({ required: true })
const props = defineProps<{ reading: Shapes['MailReadingOut'] }>()
const doubtful = new Set(
  props.reading.lines.filter((line) => line.doubts.length).map((line) => line.number),
)
const groups = computed(() =>
  [
    { name: t('reading.sure'), rows: lines.value.filter((line) => !doubtful.has(line.number)) },
    { name: t('reading.doubtful'), rows: lines.value.filter((line) => doubtful.has(line.number)) },
  ].filter((group) => group.rows.length),
)
const why = (code: string) => maybe(`reading.whys.${code}`) ?? code

function change(line: MailLine): void {
  lines.value = lines.value.map((each) => (each.number === line.number ? line : each))
}
</script>

<template>
  <div class="reading">
    <table v-if="lines.length" class="list">
      <tbody v-for="group in groups" :key="group.name">
        <tr>
          <th colspan="6" scope="rowgroup">{{ group.name }}</th>
        </tr>
        <MailLineRow v-for="line in group.rows" :key="line.number" :line="line" @change="change" />
      </tbody>
    </table>
    <p v-else class="soft">{{ t('reading.none') }}</p>
    <section v-if="reading.asides.length">
      <h3>{{ t('reading.aside') }}</h3>
      <p v-for="(each, n) in reading.asides" :key="n">
        {{ each.sentence }} <span class="soft">{{ why(each.why) }}</span>
      </p>
    </section>
    <details v-if="reading.left_out.length">
      <summary>{{ t('reading.leftOut') }}</summary>
      <div v-for="(each, n) in reading.left_out" :key="n" class="out soft">
        <b>{{ why(each.why) }}</b>
        <pre>{{ each.text }}</pre>
      </div>
    </details>
  </div>
</template>

<style scoped>
.reading {
  flex-basis: 100%;
  max-height: 48vh;
  overflow: auto;
}
th[scope='rowgroup'] {
  text-align: left;
  padding-top: 8px;
}
h3 {
  font-size: inherit;
  margin: 10px 0 2px;
}
section p {
  margin: 2px 0;
}
summary {
  cursor: pointer;
  margin-top: 8px;
  min-height: 24px;
}
pre {
  font: inherit;
  white-space: pre-wrap;
  margin: 2px 0 8px;
}
</style>
