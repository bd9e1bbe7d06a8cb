<script setup lang="ts">
/** Who commits to what in a month, beside what the deals say; the lead's own judgement of it. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { api, take, type Shapes } from '@/api/client'
import { say } from '@/kit/act/notices'
import { useAct } from '@/kit/act/useAct'
import ChoiceField from '@/kit/form/ChoiceField.vue'
import { figure } from '@/kit/format/format'
import LoadState from '@/kit/show/LoadState.vue'
import { t } from '@/words'
import { monthKey, nameOf, type Period } from './outlook'
import WordForm from './WordForm.vue'

const props = defineProps<{ periods: Period[] }>()
const client = useQueryClient()
const months = computed(() =>
  props.periods
    .filter((each) => !each.quarter)
    .map((each) => ({ value: monthKey(each), label: nameOf(each) })),
)
const chosen = ref('')
const month = computed(() => chosen.value || months.value[0]?.value || '')
const { data, error, refetch, isPlaceholderData } = useQuery({
  queryKey: computed(() => ['forecast', 'words', month.value]),
  queryFn: ({ signal }) =>
    take(api.GET('/api/forecast/words', { params: { query: { month: month.value } }, signal })),
  enabled: computed(() => month.value !== ''),
  placeholderData: (before) => before,
})
type Person = Shapes['PersonOut']
const saying = ref<{ id: number; judged: boolean } | null>(null)
watch(month, () => (saying.value = null))
const open = (person: Person, judged: boolean) =>
  saying.value?.id === person.id && saying.value.judged === judged
const turn = (person: Person, judged: boolean) =>
  (saying.value = open(person, judged) ? null : { id: person.id, judged })
const { busy, run } = useAct((fault) => {
  if (fault.status === 409) void refetch()
})
const keep = (person: Person, judged: boolean, amount: string | null, reason: string) =>
  run(async () => {
    const word = judged ? person.judged : person.committed
    const body = { owner_id: person.id, month: `${month.value}-01`, amount, reason, judged, seen: word?.seen ?? 0 } // prettier-ignore
    client.setQueryData(['forecast', 'words', month.value], await take(api.POST('/api/forecast/words', { body }))) // prettier-ignore
    saying.value = null
    say(t(amount === null ? 'forecast.words.taken' : 'forecast.words.kept'))
  })
</script>

<template>
  <section
    class="card"
    :class="{ stale: isPlaceholderData }"
    :aria-label="t('forecast.words.title')"
  >
    <header>
      <h2>{{ t('forecast.words.title') }}</h2>
      <ChoiceField
        bare
        small
        class="month"
        :model-value="month"
        :choices="months"
        :label="t('forecast.monthHead')"
        @update:model-value="(now) => (chosen = String(now ?? ''))"
      />
      <span class="soft">{{ t('forecast.words.hint') }}</span>
    </header>
    <LoadState v-if="!data" :error="error" :rows="3" @again="refetch()" />
    <div v-else class="scroll">
      <table class="list">
        <thead>
          <tr>
            <th>{{ t('forecast.targets.who') }}</th>
            <th class="num">{{ t('forecast.outlook.won') }}</th>
            <th class="num">{{ t('forecast.words.low') }}</th>
            <th class="num">{{ t('forecast.words.middle') }}</th>
            <th class="num">{{ t('forecast.words.high') }}</th>
            <th class="num">{{ t('forecast.outlook.target') }}</th>
            <th class="num">{{ t('forecast.words.committed') }}</th>
            <th class="num">{{ t('forecast.words.judged') }}</th>
          </tr>
        </thead>
        <tbody>
          <template v-for="person in data.people" :key="person.id">
            <tr>
              <td>{{ person.name }}</td>
              <td class="num">{{ figure(person.won) }}</td>
              <td class="num">{{ figure(person.low) }}</td>
              <td class="num">{{ figure(person.middle) }}</td>
              <td class="num">{{ figure(person.high) }}</td>
              <td class="num">{{ person.target ? figure(person.target) : '–' }}</td>
              <td class="num">
                <ElButton
                  v-if="person.may_commit && !data.over"
                  text
                  size="small"
                  :aria-expanded="open(person, false)"
                  :aria-label="t('forecast.words.commitOf', { name: person.name })"
                  @click="turn(person, false)"
                  >{{
                    person.committed?.amount
                      ? figure(person.committed.amount)
                      : t('forecast.words.commit')
                  }}</ElButton
                >
                <template v-else>{{
                  person.committed?.amount ? figure(person.committed.amount) : '–'
                }}</template>
              </td>
              <td class="num" :title="person.judged?.amount ? person.judged.reason : ''">
                <ElButton
                  v-if="data.may_judge && !data.over"
                  text
                  size="small"
                  :aria-expanded="open(person, true)"
                  :aria-label="t('forecast.words.judgeOf', { name: person.name })"
                  @click="turn(person, true)"
                  >{{
                    person.judged?.amount ? figure(person.judged.amount) : t('forecast.words.judge')
                  }}</ElButton
                >
                <template v-else>{{
                  person.judged?.amount ? figure(person.judged.amount) : '–'
                }}</template>
              </td>
            </tr>
            <tr v-if="saying?.id === person.id">
              <td colspan="8">
                <WordForm
                  :key="`${person.id} ${saying.judged}`"
                  :judged="saying.judged"
                  :word="saying.judged ? person.judged : person.committed"
                  :currency="data.currency"
                  :busy="busy"
                  @keep="(amount, reason) => keep(person, saying?.judged ?? false, amount, reason)"
                  @close="saying = null"
                />
              </td>
            </tr>
          </template>
        </tbody>
        <tfoot v-if="data.people.length > 1">
          <tr>
            <td colspan="6">{{ t('forecast.total') }}</td>
            <td class="num">{{ figure(data.committed) }}</td>
            <td class="num">{{ figure(data.judged) }}</td>
          </tr>
        </tfoot>
      </table>
    </div>
  </section>
</template>

<style scoped>
.card {
  margin-top: 12px;
}
header {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
  align-items: center;
}
.month {
  width: 170px;
  margin: 0;
}
.stale {
  opacity: 0.6;
}
</style>
