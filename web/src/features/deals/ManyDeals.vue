<script setup lang="ts">
/** Several deals changed together: to a stage, to somebody, by days; what it does to the months is told first. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, shallowRef, watch } from 'vue'
import { me } from '@/api/session'
import ChoiceField from '@/kit/form/ChoiceField.vue'
import { figure, monthOf, todayIso } from '@/kit/format/format'
import { t, tn } from '@/words'
import { changesOf, wished, type Wish } from './many'
import { useStages, type DealRow } from './queries'
import { askTogether, useTogether } from './useTogether'

const props = defineProps<{ chosen: number[]; rows: DealRow[] }>()
const emit = defineEmits<{ done: [] }>()
/** Rows that were chosen, also those of another page. */
const known = shallowRef(new Map<number, DealRow>())
watch(
  () => props.rows,
  (rows) => (known.value = new Map([...known.value, ...rows.map((row) => [row.id, row] as const)])),
  { immediate: true },
)
const rows = computed(() =>
  props.chosen.map((id) => known.value.get(id)).filter((row) => row !== undefined),
)
const wish = ref<Wish>({ stage: null, owner: null, shift: 0 })
const stages = useStages()
const stageChoices = computed(() =>
  (stages.data.value ?? [])
    .filter((stage) => !stage.retired && stage.outcome !== 'won')
    .map(({ code, name }) => ({ value: code, label: name })),
)
const people = computed(() =>
  (me.value?.people ?? []).map(({ id, name }) => ({ value: id, label: name })),
)
const changes = computed(() => changesOf(rows.value, wish.value, todayIso()))
const { data, error } = useQuery({
  queryKey: computed(() => ['together', changes.value]),
  queryFn: () => askTogether(changes.value, false),
  enabled: computed(() => wished(wish.value) && rows.value.length > 0),
  placeholderData: (before) => before,
  retry: false,
})
const moved = computed(() => (data.value?.months ?? []).filter((m) => m.before !== m.after))
const monthName = (month: string) => (month === 'overdue' ? t('deals.gone') : monthOf(month))
const { busy, change } = useTogether()
async function keep(): Promise<void> {
  if (await change(rows.value, { ...wish.value }, todayIso())) emit('done')
}
</script>

<template>
  <section class="card many" :aria-label="tn('deals.many.title', chosen.length)">
    <ElForm label-position="top" class="wish" @submit.prevent="keep">
      <b>{{ tn('deals.many.title', chosen.length) }}</b>
      <ChoiceField
        v-model="wish.stage"
        small
        clearable
        :choices="stageChoices"
        :label="t('deals.many.stage')"
        class="pick"
        :placeholder="t('deals.many.as')"
      />
      <ChoiceField
        v-if="me?.leads"
        v-model="wish.owner"
        small
        clearable
        :choices="people"
        :label="t('deals.many.owner')"
        class="pick"
        :placeholder="t('deals.many.as')"
      />
      <ElFormItem :label="t('deals.many.shift')">
        <ElInputNumber
          v-model="wish.shift"
          size="small"
          :min="-365"
          :max="365"
          :aria-label="t('deals.many.shift')"
        />
      </ElFormItem>
      <ElButton
        type="primary"
        native-type="submit"
        :loading="busy"
        :disabled="!wished(wish) || !!error"
        >{{ tn('deals.many.act', chosen.length) }}</ElButton
      >
      <ElButton text @click="emit('done')">{{ t('deals.many.leave') }}</ElButton>
    </ElForm>
    <p v-if="error" class="fault" role="alert">{{ error.message }}</p>
    <table v-else-if="wished(wish) && moved.length" class="list" aria-live="polite">
      <thead>
        <tr>
          <th>{{ t('deals.many.month') }}</th>
          <th class="num">{{ t('deals.many.before') }}</th>
          <th class="num">{{ t('deals.many.after') }}</th>
          <th class="num">{{ t('deals.many.allBefore') }}</th>
          <th class="num">{{ t('deals.many.allAfter') }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="month in moved" :key="month.month">
          <td>{{ monthName(month.month) }}</td>
          <td class="num">{{ figure(month.before) }}</td>
          <td class="num">{{ figure(month.after) }}</td>
          <td class="num soft">{{ figure(month.all_before) }}</td>
          <td class="num">{{ figure(month.all_after) }}</td>
        </tr>
      </tbody>
    </table>
    <p v-else-if="wished(wish) && data" class="soft">{{ t('deals.many.same') }}</p>
  </section>
</template>

<style scoped>
.pick {
  width: 170px;
}
.many {
  margin-top: 10px;
}
.wish {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 16px;
  align-items: flex-end;
}
table {
  max-width: 820px;
  margin-top: 8px;
}
</style>
