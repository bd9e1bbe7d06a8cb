<script setup lang="ts">
/** The events of another calendar: which of them are taken, and with whom each is. */
import { computed, ref } from 'vue'
import { api, take, type Shapes } from '@/api/client'
import { say } from '@/kit/act/notices'
import { useAct } from '@/kit/act/useAct'
import { day } from '@/kit/format/format'
import StepPanel from '@/kit/step/StepPanel.vue'
import CustomerPick from '@/parts/customer/CustomerPick.vue'
import { t, tn } from '@/words'

type Event = Shapes['EventOut']
const props = defineProps<{ events: Event[] }>()
const emit = defineEmits<{ taken: [first: string]; close: [] }>()
interface Row {
  event: Event
  taken: boolean
  customer: number | null
}
/** What seems to be with a customer is taken, unless it was before. */
const rows = ref<Row[]>(
  props.events.map((event) => ({
    event,
    taken: event.customer_id !== null && !event.known,
    customer: event.customer_id,
  })),
)
const ready = computed(() => rows.value.filter((row) => row.taken && row.customer !== null))
const { busy, run } = useAct()
const keep = () =>
  run(async () => {
    if (!ready.value.length) return
    const wanted = ready.value.map(({ event, customer }) => ({
      uid: event.uid,
      customer_id: customer ?? 0,
      text: event.text || t('diary.calendarFile.unnamed'),
      day: event.day,
      starts: event.starts || null,
      minutes: event.minutes,
      where: event.where,
    }))
    const { taken } = await take(api.POST('/api/diary/events', { body: { rows: wanted } }))
    say(tn('diary.calendarFile.taken', taken))
    emit('taken', wanted.map((row) => row.day).sort()[0] ?? '')
  })
const note = ({ known, repeats }: Event) =>
  [known && t('diary.calendarFile.known'), repeats && t('diary.calendarFile.repeats')]
    .filter(Boolean)
    .join(', ')
function chosen(row: Row, customer: number | null): void {
  row.customer = customer
  row.taken = customer !== null
}
</script>

<template>
  <StepPanel :title="t('diary.calendarFile.title')" @go="keep" @close="emit('close')">
    <p v-if="!rows.length">{{ t('diary.calendarFile.none') }}</p>
    <div v-else class="scroll">
      <table class="list">
        <tbody>
          <tr v-for="(row, n) in rows" :key="n">
            <td>
              <ElCheckbox
                v-model="row.taken"
                :disabled="row.customer === null"
                :aria-label="t('diary.calendarFile.take', { what: row.event.text })"
              />
            </td>
            <td class="when">{{ day(row.event.day) }} {{ row.event.starts }}</td>
            <td>
              {{ row.event.text }}
              <small class="soft">{{
                [row.event.where, note(row.event)].filter(Boolean).join(' · ')
              }}</small>
            </td>
            <td class="who">
              <CustomerPick
                bare
                small
                :model-value="row.customer"
                :label="t('diary.calendarFile.with', { what: row.event.text })"
                :placeholder="t('diary.calendarFile.nobody')"
                @update:model-value="(customer) => chosen(row, customer)"
              />
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <ElButton type="primary" native-type="submit" :loading="busy" :disabled="!ready.length">{{
      tn('diary.calendarFile.act', ready.length)
    }}</ElButton>
  </StepPanel>
</template>

<style scoped>
.scroll {
  flex-basis: 100%;
  max-height: 50vh;
}
.when {
  white-space: nowrap;
}
.who {
  width: 240px;
}
small {
  display: block;
  font-size: 12px;
}
</style>
