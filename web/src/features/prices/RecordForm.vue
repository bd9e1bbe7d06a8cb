<script setup lang="ts">
/** A price record is changed, looked at first, saved, or taken away. */
import { computed, ref } from 'vue'
import { me } from '@/api/session'
import ChoiceField from '@/kit/form/ChoiceField.vue'
import DayField from '@/kit/form/DayField.vue'
import { moment } from '@/kit/format/format'
import SureButton from '@/kit/step/SureButton.vue'
import { t, tn } from '@/words'
import MovedTables from './MovedTables.vue'
import { choiceName, fieldName, type Field, type Kind, type PriceRecord } from './queries'
import { useRecordForm } from './useRecordForm'

const props = defineProps<{ kind: Kind; record: PriceRecord | null }>()
const emit = defineEmits<{ changed: []; close: [] }>()
const record = useRecordForm(props.kind, props.record, me.value?.base_currency ?? '')
const { typed, form, asOf, ahead, past, busy, faultAt } = record
/** Rows that are typed in one field, each as in its example. */
const TYPED: Record<string, string> = {
  tiers: 'from 100: 5 %; from 500: 8 %',
  packs: 'RL = 100; PF = 12000',
  taxes: 'VAT 20 %; Levy 5 % on running',
}
const label = (field: Field) =>
  field.needed ? fieldName(field.name) : t('prices.ifAny', { label: fieldName(field.name) })
const choices = (field: Field) =>
  field.kind === 'flag'
    ? ['no', 'yes'].map((value) => ({ value, label: t(`prices.flags.${value as 'no'}`) }))
    : field.choices.map((value) => ({ value, label: choiceName(value) }))
const isChoice = (field: Field) => field.kind === 'flag' || field.choices.length > 0
/** What taking the record away would move, for the question. */
const without = computed(() => {
  if (!ahead.value) return t('prices.gone.looking')
  const quotes = tn('prices.openQuotes', ahead.value.moved.length)
  const cases = tn('prices.keptCases', ahead.value.cases_moved.length)
  return t('prices.gone.question', { quotes, cases })
})
/** Counts what was refused: the question is closed then. */
const refused = ref(0)
async function lookGone(): Promise<void> {
  if (!(await record.look(true))) refused.value += 1
}
async function save(): Promise<void> {
  if (await record.save()) emit('changed')
}
async function remove(): Promise<void> {
  if (await record.remove()) emit('changed')
}
</script>

<template>
  <ElForm class="card fold" label-position="top" @submit.prevent="save">
    <h2>{{ props.record ? t('prices.changing') : t('prices.adding') }}</h2>
    <div class="form">
      <template v-for="f in typed" :key="f.name">
        <ChoiceField
          v-if="isChoice(f)"
          :model-value="form[f.name] ?? ''"
          :choices="choices(f)"
          :label="label(f)"
          :name="f.name"
          :error="faultAt(f.name)"
          @update:model-value="(value) => (form[f.name] = value ?? '')"
        />
        <DayField
          v-else-if="f.kind === 'date'"
          :model-value="form[f.name] || null"
          :label="label(f)"
          :name="f.name"
          clearable
          :error="faultAt(f.name)"
          @update:model-value="(value) => (form[f.name] = value ?? '')"
        />
        <ElFormItem
          v-else
          :label="label(f)"
          :error="faultAt(f.name)"
          :class="{ wide: f.kind in TYPED }"
        >
          <ElInput v-model="form[f.name]" :name="f.name" :placeholder="TYPED[f.kind] ?? ''" />
        </ElFormItem>
      </template>
    </div>
    <div class="acts">
      <ElButton :loading="busy" @click="record.look()">{{ t('prices.whatWouldMove') }}</ElButton>
      <DayField v-model="asOf" class="day" :label="t('prices.pricedOn')" />
      <ElButton type="primary" native-type="submit" :disabled="busy">{{
        t('prices.save')
      }}</ElButton>
      <template v-if="props.record">
        <ElButton :disabled="busy" @click="record.history">{{ t('prices.whoChanged') }}</ElButton>
        <SureButton
          :key="refused"
          :label="t('prices.gone.label')"
          large
          :question="without"
          :act="t('prices.gone.act')"
          :disabled="busy"
          @ask="lookGone"
          @go="remove"
        />
      </template>
      <ElButton text @click="emit('close')">{{ t('kit.step.notYet') }}</ElButton>
    </div>
    <MovedTables v-if="ahead" :ahead="ahead" />
    <p v-if="past && !past.length" class="soft">{{ t('prices.neverChanged') }}</p>
    <ul v-else-if="past">
      <li v-for="(c, n) in past" :key="n" class="soft">
        {{ moment(c.at) }}, {{ c.who }}: {{ c.field }} {{ c.before || '—' }} → {{ c.after || '—' }}
      </li>
    </ul>
  </ElForm>
</template>

<style scoped>
.fold {
  margin-bottom: 12px;
}
.form {
  align-items: start;
  margin-top: 6px;
}
.wide {
  grid-column: span 2;
}
.acts {
  display: flex;
  gap: 8px;
  flex-wrap: wrap;
  align-items: flex-end;
  margin: 10px 0;
}
.day {
  width: 130px;
}
</style>
