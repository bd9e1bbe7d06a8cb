<script setup lang="ts">
/** What was done, with what comes next; or what is to do, by whom, when and where. Colleagues are named with @. */
import type { MentionInstance } from 'element-plus'
import { computed, nextTick, onMounted, ref, useTemplateRef } from 'vue'
import { api, take } from '@/api/client'
import { me } from '@/api/session'
import { complain } from '@/kit/act/notices'
import { useAct } from '@/kit/act/useAct'
import ChoiceField from '@/kit/form/ChoiceField.vue'
import DayField from '@/kit/form/DayField.vue'
import { addDays, todayIso } from '@/kit/format/format'
import { sendFile } from '@/parts/files/files'
import { t } from '@/words'
import AttachFiles from './AttachFiles.vue'
import { bodyOf, emptyForm, KINDS, type About, type Kind } from './activity'

const props = defineProps<{
  about: About
  /** One kind alone, and at once. */
  only?: Kind
  /** Who it is with, where that is known. */
  person?: { id: number; name: string }
  /** What it asks for first: something was just done. */
  next?: boolean
  /** The day to begin with. */
  on?: string
}>()
/** The day on which it stands is told. */
const emit = defineEmits<{ added: [day: string] }>()
const kinds = KINDS.map((value) => ({ value, label: t(`diary.kinds.${value}`) }))
const form = ref(emptyForm(props.only ?? (props.next ? 'follow_up' : 'note'), firstDay()))
const field = useTemplateRef<MentionInstance>('field')
const { busy, run } = useAct()
const files = ref<File[]>([])
function firstDay(): string {
  return props.on && props.on >= todayIso()
    ? props.on
    : addDays(todayIso(), me.value?.usual_follow_up_days ?? 0)
}
const planned = computed(() => form.value.kind === 'follow_up')
const dated = computed(() => form.value.kind !== 'note')
const placed = computed(
  () => form.value.kind === 'visit' || (form.value.kind === 'follow_up' && form.value.visit),
)
const asksNext = computed(() => form.value.kind === 'call' || form.value.kind === 'visit')
const colleagues = computed(() => (me.value?.colleagues ?? []).filter((c) => c.id !== me.value?.id))
const named = computed(() => colleagues.value.map(({ name }) => ({ value: name, label: name })))
const whose = computed(() => [
  { value: me.value?.id ?? 0, label: t('diary.mine') },
  ...colleagues.value.map(({ id, name }) => ({ value: id, label: name })),
])
const words = computed(() => {
  if (props.person) return t('customers.people.saidBy', { name: props.person.name })
  if (!planned.value) return t('diary.said')
  return props.next ? t('diary.next') : t('diary.toDo')
})
const add = () =>
  run(async () => {
    if (!form.value.text.trim()) return
    const made = await take(
      api.POST('/api/activities', { body: bodyOf(form.value, props.about, props.person) }),
    )
    for (const file of files.value.splice(0)) await attach(made.id, file)
    form.value = emptyForm(form.value.kind, firstDay())
    emit('added', made.day)
  })
/** What is refused is told; the others lie with it. */
async function attach(activity: number, file: File): Promise<void> {
  try {
    await sendFile('activity', activity, file)
  } catch (fault) {
    complain(fault, () => void attach(activity, file))
  }
}
async function focus(): Promise<void> {
  await nextTick()
  field.value?.input?.focus()
}
onMounted(() => (props.only || props.next) && void focus())
defineExpose({ focus })
</script>

<template>
  <ElForm class="add" @submit.prevent="add">
    <div v-if="!only" class="row">
      <ElSegmented
        v-model="form.kind"
        :options="kinds"
        :aria-label="t('diary.kind')"
        size="small"
      />
      <DayField
        v-if="planned"
        v-model="form.due"
        class="day"
        :label="t('diary.dueOn')"
        bare
        small
        :from="todayIso()"
      />
      <DayField
        v-else-if="dated"
        v-model="form.day"
        class="day"
        :label="t('diary.wasOn')"
        bare
        small
        behind
      />
      <ElCheckbox v-if="planned" v-model="form.visit" size="small">{{
        t('diary.asVisit')
      }}</ElCheckbox>
      <template v-if="placed">
        <ElTimeSelect
          v-model="form.starts"
          class="time"
          size="small"
          start="06:00"
          end="21:00"
          step="00:15"
          :aria-label="t('diary.at')"
          :placeholder="t('diary.at')"
        />
        <ElInput
          v-model="form.where"
          class="where"
          size="small"
          maxlength="160"
          :aria-label="t('diary.where')"
          :placeholder="t('diary.where')"
        />
      </template>
      <ChoiceField
        v-if="planned && whose.length > 1"
        v-model="form.owner"
        class="whose"
        :choices="whose"
        :label="t('diary.whoDoes')"
        bare
        small
      />
      <AttachFiles v-model="files" />
    </div>
    <div class="write">
      <span class="text">
        <ElMention
          ref="field"
          v-model="form.text"
          maxlength="1000"
          whole
          :options="named"
          :aria-label="person ? words : t(`diary.kinds.${form.kind}`)"
          :placeholder="words"
        />
      </span>
      <ElButton
        v-if="!asksNext"
        native-type="submit"
        :loading="busy"
        :disabled="!form.text.trim()"
        >{{ t('diary.add') }}</ElButton
      >
    </div>
    <div v-if="asksNext" class="write">
      <ElInput
        v-model="form.next"
        class="text"
        maxlength="1000"
        :aria-label="t('diary.next')"
        :placeholder="t('diary.nextMaybe')"
      />
      <DayField
        v-model="form.due"
        class="day"
        :label="t('diary.nextOn')"
        bare
        small
        :from="todayIso()"
      />
      <ElButton native-type="submit" :loading="busy" :disabled="!form.text.trim()">{{
        t('diary.add')
      }}</ElButton>
    </div>
  </ElForm>
</template>

<style scoped>
.add {
  display: flex;
  flex-direction: column;
  gap: 8px;
  margin-bottom: 8px;
}
.row,
.write {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 8px;
  align-items: center;
}
.text {
  flex: 1 1 200px;
}
.day {
  width: 130px;
  margin: 0;
}
.time {
  width: 104px;
}
.where {
  width: 180px;
}
.whose {
  width: 160px;
  margin: 0;
}
</style>
