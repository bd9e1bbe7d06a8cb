<script setup lang="ts">
/** A standing order as it is written down; the days to come are shown before it is kept. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, take, type Shapes } from '@/api/client'
import { me } from '@/api/session'
import { useKeptForm } from '@/kit/draft/useKeptForm'
import ChoiceField from '@/kit/form/ChoiceField.vue'
import DayField from '@/kit/form/DayField.vue'
import { useFields } from '@/kit/form/unread'
import { useFormAct } from '@/kit/form/useFormAct'
import { day } from '@/kit/format/format'
import { t } from '@/words'
import RepetitionFields from './RepetitionFields.vue'
import StandingLines from './StandingLines.vue'
import type { Standing } from './queries'
import { ruleOf } from './repeat'
import { isHalf, nothingStanding, typedStanding, wishOf } from './standing'

const props = defineProps<{
  customer: number
  places: Shapes['AddressOut'][]
  standing?: Standing
}>()
const emit = defineEmits<{ kept: [row: Standing]; close: [] }>()
const SHAPE = 1
const name = props.standing
  ? `standing:${props.standing.id}:${props.standing.version}`
  : `new-standing:${props.customer}`
const { form, clear } = useKeptForm(me.value?.id ?? 0, name, SHAPE, () =>
  props.standing ? typedStanding(props.standing) : nothingStanding(),
)
/** A line lacks its item or its quantity: nothing is kept without it. */
const half = ref(false)
const settle = useFields()
const FIELDS = ['title', 'begins', 'ends', 'rule', 'repetition.weekdays', 'repetition.turn']
const { busy, faultAt, elsewhere, run } = useFormAct(FIELDS)
const places = computed(() =>
  props.places.map((place) => ({
    value: place.id,
    label: [place.label, place.street, place.town].filter(Boolean).join(', '),
  })),
)
const days = computed(() => ({
  repetition: ruleOf(form.value.rule),
  begins: form.value.begins,
  ends: form.value.ends,
}))
const { data: coming } = useQuery({
  queryKey: computed(() => ['repetition', days.value]),
  queryFn: ({ signal }) => take(api.POST('/api/repetitions/days', { body: days.value, signal })),
  retry: false,
})
const save = () =>
  run(async () => {
    const unread = settle()
    if (unread) return unread.focus()
    half.value = form.value.lines.some(isHalf)
    if (half.value) return
    const body = wishOf(form.value)
    const row = props.standing
      ? await take(
          api.PUT('/api/standing-orders/{pk}', {
            params: { path: { pk: props.standing.id } },
            body: { ...body, version: props.standing.version },
          }),
        )
      : await take(
          api.POST('/api/customers/{customer_id}/standing-orders', {
            params: { path: { customer_id: props.customer } },
            body,
          }),
        )
    clear()
    emit('kept', row)
  })
</script>

<template>
  <ElForm class="form card" label-position="top" novalidate @submit.prevent="save">
    <ElFormItem :label="t('ahead.standing.name')" :error="faultAt('title')" class="title">
      <ElInput v-model="form.title" name="title" maxlength="80" required />
    </ElFormItem>
    <RepetitionFields
      v-model="form.rule"
      :error="faultAt('rule', 'repetition.weekdays', 'repetition.turn')"
    />
    <DayField
      :model-value="form.begins"
      :label="t('ahead.standing.begins')"
      :error="faultAt('begins')"
      @update:model-value="(begins) => begins && (form.begins = begins)"
    />
    <DayField
      v-model="form.ends"
      :label="t('ahead.standing.ends')"
      :from="form.begins"
      :placeholder="t('ahead.standing.open')"
      :error="faultAt('ends')"
      clearable
    />
    <ElFormItem :label="t('ahead.standing.notice')">
      <ElInputNumber v-model="form.notice" :min="0" :max="90" />
    </ElFormItem>
    <p class="next" role="status">
      {{
        coming?.length
          ? t('ahead.repeat.next', { days: coming.map((each) => day(each)).join(', ') })
          : t('ahead.repeat.none')
      }}
    </p>
    <StandingLines v-model="form.lines" />
    <ElFormItem :label="t('ahead.standing.reference')">
      <ElInput v-model="form.reference" maxlength="60" />
    </ElFormItem>
    <ChoiceField
      v-model="form.address"
      :choices="places"
      :label="t('ahead.standing.address')"
      :placeholder="t('ahead.standing.usual')"
      clearable
    />
    <p v-if="half" class="fault" role="alert">{{ t('ahead.standing.half') }}</p>
    <p v-if="elsewhere" class="fault" role="alert">{{ elsewhere }}</p>
    <div class="chips acts">
      <ElButton type="primary" native-type="submit" :loading="busy">{{
        t('ahead.standing.save')
      }}</ElButton>
      <ElButton text @click="emit('close')">{{ t('kit.step.notYet') }}</ElButton>
    </div>
  </ElForm>
</template>

<style scoped>
.title,
.next,
.acts,
.fault {
  grid-column: 1 / -1;
}
.next {
  font-weight: 600;
}
</style>
