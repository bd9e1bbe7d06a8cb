<script setup lang="ts">
/** What moved since an earlier snapshot, cause by cause, adding up; each cause opens its deals. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, take } from '@/api/client'
import { say } from '@/kit/act/notices'
import { useAct } from '@/kit/act/useAct'
import ChoiceField from '@/kit/form/ChoiceField.vue'
import DayField from '@/kit/form/DayField.vue'
import TextField from '@/kit/form/TextField.vue'
import { addDays, day, todayIso } from '@/kit/format/day'
import EmptyState from '@/kit/show/EmptyState.vue'
import LoadState from '@/kit/show/LoadState.vue'
import { t } from '@/words'
import MovedLine from './MovedLine.vue'
import MovedSteps from './MovedSteps.vue'
import { nameOf, type Period } from './outlook'
import { asked, type Whose } from './whose'

const props = defineProps<{
  periods: Period[]
  values: Whose
}>()
const since = defineModel<string>('since', { required: true })
const client = useQueryClient()
const ALL = { first: '2000-01-01', last: '2199-12-31' }
const choices = computed(() => [
  { value: '', label: t('forecast.moved.all') },
  ...props.periods.map((each) => ({ value: `${each.first} ${each.last}`, label: nameOf(each) })),
])
const chosen = ref('')
const window = computed(() => {
  const [first, last] = chosen.value.split(' ')
  return first && last ? { first, last } : ALL
})
const from = computed(() => since.value || addDays(todayIso(), -7))
const { data, error, refetch, isPlaceholderData } = useQuery({
  queryKey: computed(() => ['forecast', 'moved', props.values, window.value, from.value]),
  queryFn: ({ signal }) => {
    const query = { ...asked(props.values), since: from.value, ...window.value } // prettier-ignore
    return take(api.GET('/api/forecast/moved', { params: { query }, signal }))
  },
  placeholderData: (before) => before,
})
const { data: kept } = useQuery({
  queryKey: ['forecast', 'snapshots'],
  queryFn: ({ signal }) => take(api.GET('/api/forecast/snapshots', { signal })),
})
const cause = ref('')
const note = ref('')
const naming = ref(false)
const { busy, run } = useAct()
const keep = () =>
  run(async () => {
    if (!note.value.trim()) return
    await take(api.POST('/api/forecast/snapshots', { body: { note: note.value } }))
    note.value = ''
    naming.value = false
    await client.invalidateQueries({ queryKey: ['forecast', 'snapshots'] })
    say(t('forecast.moved.kept'))
  })
</script>

<template>
  <section
    class="card"
    :class="{ stale: isPlaceholderData }"
    :aria-label="t('forecast.moved.title')"
  >
    <header>
      <h2>{{ t('forecast.moved.title') }}</h2>
      <DayField
        bare
        small
        behind
        class="since"
        :model-value="from"
        :label="t('forecast.moved.since')"
        @update:model-value="(now) => (since = now ?? '')"
      />
      <ChoiceField
        bare
        small
        class="period"
        :model-value="chosen"
        :choices="choices"
        :label="t('forecast.moved.period')"
        @update:model-value="(now) => (chosen = String(now ?? ''))"
      />
      <span class="soft">{{ t('forecast.moved.hint') }}</span>
      <ElButton size="small" :aria-expanded="naming" @click="naming = !naming">{{
        t('forecast.moved.keep')
      }}</ElButton>
    </header>
    <form v-if="naming" class="name" @submit.prevent="keep">
      <TextField
        :text="note"
        :label="t('forecast.moved.name')"
        :maxlength="80"
        @change="(now) => (note = now)"
      />
      <ElButton type="primary" native-type="submit" :loading="busy">{{
        t('forecast.moved.keepNow')
      }}</ElButton>
    </form>
    <p v-if="kept?.kept.length" class="kept">
      <span class="soft">{{ t('forecast.moved.byHand') }}</span>
      <ElButton
        v-for="row in kept.kept.slice(0, 6)"
        :key="row.at"
        text
        size="small"
        @click="since = row.on"
        >{{
          t('forecast.moved.keptOf', { note: row.note, day: day(row.at), who: row.who })
        }}</ElButton
      >
    </p>
    <LoadState v-if="!data" :error="error" :rows="4" @again="refetch()" />
    <EmptyState
      v-else-if="data.start === null"
      :title="t('forecast.moved.noSnapshot', { day: day(from) })"
    >
      <template v-if="kept?.first">{{
        t('forecast.moved.first', { day: day(kept.first) })
      }}</template>
    </EmptyState>
    <template v-else>
      <MovedLine
        :moved="data"
        :chosen="cause"
        @choose="(now) => (cause = now === cause ? '' : now)"
      />
      <MovedSteps :moved="data" :cause="cause" />
    </template>
  </section>
</template>

<style scoped>
.card {
  margin-top: 12px;
}
header,
.name,
.kept {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
  align-items: center;
}
header > :last-child {
  margin-left: auto;
}
.name {
  align-items: flex-end;
}
.since {
  width: 130px;
  margin: 0;
}
.period {
  width: 170px;
  margin: 0;
}
.stale {
  opacity: 0.6;
}
</style>
