<script setup lang="ts">
/** A deal's figures and its fields. Each field saves itself; Ctrl Z takes back, a clash asks. */
import { computed, toRef } from 'vue'
import { complain } from '@/kit/act/notices'
import ChoiceField from '@/kit/form/ChoiceField.vue'
import DayField from '@/kit/form/DayField.vue'
import TextField from '@/kit/form/TextField.vue'
import { figure, todayIso } from '@/kit/format/format'
import { mailTo } from '@/kit/format/mail'
import { useKeys } from '@/kit/keys/useKeys'
import { confidenceChoices } from '@/parts/deal/confidence'
import { readAmount, readPercent } from '@/parts/line/numbers'
import { me } from '@/api/session'
import { t } from '@/words'
import DealClosing from './DealClosing.vue'
import DealFacts from './DealFacts.vue'
import { useStages, type Deal } from './queries'
import { useDealDraft, type DealFields } from './useDealDraft'

const props = defineProps<{ deal: Deal }>()
const stages = useStages()
const draft = useDealDraft(toRef(props, 'deal'))
const { state, saving, fault } = draft
const currency = computed(() => me.value?.base_currency ?? '')
const choices = computed(() =>
  (stages.data.value ?? [])
    .filter((stage) => !stage.retired || stage.code === state.value.stage)
    .map((stage) => ({ value: stage.code, label: stage.name })),
)
const contacts = computed(() =>
  props.deal.contacts.map((c) => ({ value: c.id, label: c.name, detail: c.role })),
)
const set = (change: Partial<DealFields>) => draft.change({ ...state.value, ...change })
const faultAt = (path: string) =>
  saving.value === 'refused' && fault.value?.path === path ? fault.value.message : ''
const status = computed(() => {
  if (saving.value === 'saved') return ''
  if (saving.value === 'refused') return fault.value?.message ?? ''
  return t(`deals.saving.${saving.value}`)
})
async function choose(act: () => Promise<unknown>): Promise<void> {
  try {
    await act()
  } catch (problem) {
    complain(problem, () => void choose(act))
  }
}
useKeys(() => ({
  title: t('deals.keys.title'),
  keys: [
    { keys: 'Ctrl Z', does: t('deals.keys.undo'), act: () => draft.undo() },
    { keys: 'Ctrl Shift Z, Ctrl Y', does: t('deals.keys.redo'), act: () => draft.redo() },
  ],
}))
const readEstimate = (text: string) =>
  readAmount(text || '0', currency.value, me.value?.base_digits ?? 0)
</script>

<template>
  <header>
    <h2>{{ t('deals.form.title') }}</h2>
    <span role="status" :class="saving === 'saved' || saving === 'saving' ? 'soft' : 'fault'">{{
      status || t('deals.form.formula')
    }}</span>
  </header>
  <div v-if="saving === 'clash'" class="clash" role="alert">
    {{ t('deals.clash.changed') }}
    <ElButton size="small" @click="choose(draft.takeTheirs)">{{
      t('deals.clash.theirs')
    }}</ElButton>
    <ElButton size="small" @click="choose(draft.saveMine)">{{ t('deals.clash.mine') }}</ElButton>
  </div>
  <div class="sum">
    <div>
      <small>{{ t('deals.form.amount') }}</small><b>{{ figure(deal.amount) }}</b
      ><small>{{ deal.quoted ? t('deals.form.ofQuote') : t('deals.form.ofRep') }}</small>
    </div>
    <div>
      <small>{{ t('deals.form.probability') }}</small><b>{{ figure(deal.probability) }} %</b
      ><small>{{
        deal.own_probability
          ? deal.probability_reason
          : t('deals.form.ofStage', { stage: deal.stage_name })
      }}</small>
    </div>
    <div>
      <small>{{ t('deals.form.weighted') }}</small><b>{{ figure(deal.weighted) }}</b>
    </div>
  </div>
  <DealFacts :deal="deal" @take="(taken) => set(taken)" />
  <DealClosing v-if="deal.outcome !== 'open'" :deal="deal" :state="state" @set="set" />
  <ElForm label-position="top" class="form" @submit.prevent>
    <ChoiceField
      :model-value="state.stage"
      :choices="choices"
      :label="t('deals.form.stage')"
      name="stage"
      :error="faultAt('stage')"
      @update:model-value="(stage) => stage && set({ stage })"
    />
    <DayField
      :model-value="state.decision_on"
      :label="deal.overdue ? t('deals.form.decisionLate') : t('deals.form.decision')"
      name="decision"
      :from="todayIso()"
      :error="faultAt('decision_on')"
      @update:model-value="(decision_on) => decision_on && set({ decision_on })"
    />
    <ChoiceField
      :model-value="state.confidence"
      :choices="confidenceChoices()"
      :label="t('deals.form.confidence')"
      name="confidence"
      @update:model-value="(confidence) => confidence && set({ confidence })"
    />
    <TextField
      :text="figure(state.estimate)"
      :label="t('deals.form.estimate', { currency })"
      name="estimate"
      figure
      :read="readEstimate"
      :error="faultAt('estimate')"
      @change="(estimate) => set({ estimate })"
    />
    <ChoiceField
      :model-value="state.contact_id"
      :choices="contacts"
      :label="t('deals.form.contact')"
      name="contact"
      clearable
      :placeholder="t('deals.form.nobody')"
      @update:model-value="(contact_id) => set({ contact_id })"
    />
    <TextField
      :text="state.probability === null ? '' : `${figure(state.probability)} %`"
      :label="t('deals.form.own')"
      name="probability"
      figure
      :placeholder="t('deals.form.stages')"
      :read="readPercent"
      :error="faultAt('probability')"
      @change="(probability) => set({ probability })"
    />
    <TextField
      class="because"
      :text="state.probability_reason"
      :label="t('deals.form.because')"
      name="reason"
      :maxlength="200"
      :placeholder="t('deals.form.becauseHint')"
      :error="faultAt('probability_reason')"
      @change="(probability_reason) => set({ probability_reason })"
    />
    <TextField
      class="because"
      :text="state.needs"
      :label="t('deals.form.needs')"
      name="needs"
      :rows="2"
      :maxlength="1000"
      @change="(needs) => set({ needs })"
    />
    <TextField
      :text="state.rivals"
      :label="t('deals.form.rivals')"
      name="rivals"
      :maxlength="200"
      @change="(rivals) => set({ rivals })"
    />
  </ElForm>
  <p v-if="deal.contact" class="reach soft">
    {{ [deal.contact.name, deal.contact.role].filter(Boolean).join(', ') }}
    <template v-if="deal.contact.email">
      · <a :href="mailTo(deal.contact.email)">{{ deal.contact.email }}</a></template
    >
    <template v-if="deal.contact.phone">
      · <a :href="`tel:${deal.contact.phone}`">{{ deal.contact.phone }}</a></template
    >
  </p>
</template>

<style scoped>
.sum {
  display: flex;
  gap: 34px;
  margin: 4px 0 12px;
}
.sum div {
  display: flex;
  flex-direction: column;
}
.sum b {
  font-size: 21px;
  line-height: 1.2;
}
.sum small {
  color: var(--ink-2);
  font-size: 12px;
}
.form {
  grid-template-columns: repeat(3, minmax(0, 1fr));
  align-items: start;
}
.because {
  grid-column: span 2;
}
.reach {
  margin-top: 10px;
}
.clash {
  background: var(--amber-soft);
  padding: 6px 10px;
  margin-bottom: 6px;
}
@media (max-width: 820px) {
  .form {
    grid-template-columns: 1fr 1fr;
  }
}
</style>
