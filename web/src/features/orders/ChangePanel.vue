<script setup lang="ts">
/**
 * The buyer changes an order: less of a line, later, elsewhere, or nothing of it. Done at once, or asked of the
 * back office where it has the order. What is typed stays in the browser until it is sent.
 */
import { computed, ref, toRef, useTemplateRef, watch } from 'vue'
import { me } from '@/api/session'
import { useToldHere } from '@/kit/act/notices'
import { useKeptForm } from '@/kit/draft/useKeptForm'
import ChoiceField from '@/kit/form/ChoiceField.vue'
import DayField from '@/kit/form/DayField.vue'
import { useFields } from '@/kit/form/unread'
import { figure, todayIso } from '@/kit/format/format'
import { t } from '@/words'
import { useOrderPromises } from '@/parts/promise/useOrderPromises'
import { changeOf, isOpen, lineUntyped, nothingTyped, whereIs, type TypedLine } from './change'
import type { Order } from './queries'

const props = defineProps<{
  order: Order
  busy: boolean
  /** A line that is to leave from another depot, as it was proposed. */
  proposed?: { line: number; depot: number } | null
}>()
const emit = defineEmits<{
  go: [body: ReturnType<typeof changeOf>['body'], sent: () => void]
  close: []
}>()
const { form, clear } = useKeptForm(me.value?.id ?? 0, `change:${props.order.id}`, 2, nothingTyped)
const settle = useFields()
const said = ref('')
/** What the server refused is told where it is mended. */
const told = useToldHere()
const table = useTemplateRef<HTMLElement>('table')
const open = computed(() => props.order.lines.filter(isOpen))
const here = computed(() => whereIs(props.order) === 'here')
const change = computed(() => changeOf(props.order, form.value))
const places = computed(() => [
  { value: 0, label: t('orders.change.asIs') },
  ...props.order.addresses.map(({ id, label }) => ({ value: id, label })),
])
const { data: promises } = useOrderPromises(toRef(() => props.order.id))
const depots = computed(
  () => promises.value?.depots.map(({ id, name }) => ({ value: id, label: name })) ?? [],
)
const of = (id: number): TypedLine => form.value.lines[id] ?? lineUntyped()
function type(id: number, given: Partial<TypedLine>): void {
  form.value.lines = { ...form.value.lines, [id]: { ...of(id), ...given } }
  said.value = ''
}
watch(
  () => props.proposed,
  (now) => now && type(now.line, { depot: now.depot }),
  { immediate: true },
)
function key(event: KeyboardEvent, at: number): void {
  const step = event.key === 'ArrowUp' ? -1 : ['Enter', 'ArrowDown'].includes(event.key) ? 1 : 0
  if (!step || event.ctrlKey || event.altKey) return
  event.preventDefault()
  const found = table.value?.querySelectorAll<HTMLInputElement>('input.becomes')[at + step]
  found?.focus()
  found?.select()
}
function none(): void {
  for (const line of open.value) type(line.id, { quantity: line.service ? '0' : line.shipped })
}
function go(): void {
  settle()
  const { unread, says, body } = change.value
  if (unread) said.value = t('orders.change.unread', { line: unread.text })
  else if (!says) said.value = t('orders.change.nothing')
  else if (!body.reason) said.value = t('orders.change.needsReason')
  else {
    told.value = null
    emit('go', body, clear)
  }
}
</script>

<template>
  <section class="card change" :aria-label="t('orders.change.title')" @keydown.esc="emit('close')">
    <header>
      <h2>{{ t('orders.change.title') }}</h2>
      <span class="soft">{{ here ? t('orders.change.atOnce') : t('orders.change.asks') }}</span>
    </header>
    <ElForm label-position="top" @submit.prevent="go">
      <div v-if="here" class="fields">
        <ElFormItem :label="t('desk.accept.reference')">
          <ElInput
            :model-value="form.reference ?? order.buyer_reference"
            name="buyer_reference"
            maxlength="60"
            @update:model-value="(now: string) => (form.reference = now)"
          />
        </ElFormItem>
        <DayField
          :model-value="form.wanted ?? order.requested_on"
          :label="t('desk.accept.wanted')"
          :from="todayIso()"
          name="wanted"
          @update:model-value="(now) => (form.wanted = now)"
        />
        <ChoiceField
          :model-value="form.address ?? 0"
          :style="{ width: '280px' }"
          :choices="places"
          :label="t('desk.accept.deliverTo')"
          name="address"
          @update:model-value="(now) => (form.address = Number(now) || null)"
        />
      </div>
      <div class="scroll">
        <table ref="table" class="list">
          <thead>
            <tr>
              <th>{{ t('desk.grid.item') }}</th>
              <th>{{ t('desk.grid.what') }}</th>
              <th class="num">{{ t('orders.change.ordered') }}</th>
              <th class="num">{{ t('orders.shipped') }}</th>
              <th class="num now">{{ t('orders.change.becomes') }}</th>
              <th>{{ t('desk.grid.unit') }}</th>
              <th>{{ t('orders.change.wanted') }}</th>
              <th>{{ t('orders.change.place') }}</th>
              <th v-if="depots.length > 1">{{ t('promise.depot') }}</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="(line, n) in open" :key="line.id">
              <td class="soft">{{ line.item }}</td>
              <td>{{ line.text }}</td>
              <td class="num">{{ figure(line.quantity) }}</td>
              <td class="num soft">
                {{ line.service ? t('orders.service') : figure(line.shipped) }}
              </td>
              <td class="num now">
                <input
                  class="becomes"
                  inputmode="decimal"
                  :value="of(line.id).quantity"
                  :placeholder="figure(line.quantity)"
                  :aria-label="t('orders.change.becomesOf', { item: line.text })"
                  @input="type(line.id, { quantity: ($event.target as HTMLInputElement).value })"
                  @keydown="key($event, n)"
                />
              </td>
              <td>{{ order.unit_names[line.unit] ?? line.unit }}</td>
              <td class="day">
                <DayField
                  bare
                  small
                  clearable
                  :model-value="of(line.id).day ?? line.wanted_on"
                  :label="t('orders.change.wantedOf', { item: line.text })"
                  :from="todayIso()"
                  @update:model-value="(now) => type(line.id, { day: now })"
                />
              </td>
              <td class="to">
                <ChoiceField
                  bare
                  :model-value="of(line.id).place ?? 0"
                  :choices="places"
                  :label="t('orders.change.placeOf', { item: line.text })"
                  @update:model-value="(now) => type(line.id, { place: Number(now) || null })"
                />
              </td>
              <td v-if="depots.length > 1" class="from">
                <ChoiceField
                  v-if="!line.service"
                  bare
                  :model-value="of(line.id).depot ?? line.depot_id"
                  :choices="depots"
                  :label="t('orders.change.depotOf', { item: line.text })"
                  @update:model-value="(now) => type(line.id, { depot: Number(now) || null })"
                />
              </td>
            </tr>
          </tbody>
        </table>
      </div>
      <p v-if="said || told" class="fault" role="alert">{{ said || told?.words }}</p>
      <div class="fields foot">
        <ElFormItem :label="t('orders.change.why')" class="why">
          <ElInput v-model="form.reason" name="reason" maxlength="200" />
        </ElFormItem>
        <ElButton text @click="none">{{ t('orders.change.none') }}</ElButton>
        <ElButton type="primary" native-type="submit" :loading="busy">{{
          here ? t('orders.change.do') : t('orders.change.ask')
        }}</ElButton>
        <ElButton text @click="emit('close')">{{ t('kit.step.notYet') }}</ElButton>
      </div>
    </ElForm>
  </section>
</template>

<style scoped>
.change {
  margin: 12px 0;
  border: 2px solid var(--ink);
}
.fields {
  display: flex;
  gap: 4px 16px;
  flex-wrap: wrap;
  align-items: end;
}
.foot {
  margin-top: 8px;
}
.why {
  flex: 1 1 320px;
}
.now {
  width: 110px;
}
.becomes {
  width: 96px;
  text-align: right;
}
td :deep(.el-form-item) {
  margin: 0;
}
td.day {
  width: 150px;
}
td.to {
  width: 230px;
}
td.from {
  width: 140px;
}
</style>
