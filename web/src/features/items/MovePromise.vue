<script setup lang="ts">
/** One order lets another go first: every promise that moves by it, before anything is moved. */
import { toRef } from 'vue'
import { day, figure } from '@/kit/format/format'
import ChoiceField from '@/kit/form/ChoiceField.vue'
import StepPanel from '@/kit/step/StepPanel.vue'
import { t } from '@/words'
import { useMove, type Plan, type Rider } from './useMove'

const props = defineProps<{ item: number; plan: Plan; unit: string }>()
const emit = defineEmits<{ close: []; done: [byBackOffice: boolean] }>()
const { giver, taker, gives, takes, found, error, ready, busy, go } = useMove(
  props.item,
  toRef(props, 'plan'),
  (byBackOffice) => emit('done', byBackOffice),
)
const choice = (rider: Rider) => ({
  value: rider.line,
  label: `${rider.name} · ${rider.order}`,
  detail: t('promise.move.detail', { quantity: figure(rider.quantity), day: day(rider.by) }),
})
const dayOr = (on: string | null) => (on ? day(on) : t('promise.move.never'))
</script>

<template>
  <StepPanel
    :title="t('promise.move.title', { depot: plan.depot })"
    @close="emit('close')"
    @go="go"
  >
    <ChoiceField
      v-model="giver"
      class="side"
      :choices="gives.map(choice)"
      :label="t('promise.move.gives')"
      name="giver"
    />
    <ChoiceField
      v-model="taker"
      class="side"
      :choices="takes.map(choice)"
      :label="t('promise.move.takes')"
      name="taker"
    />
    <div class="whole" aria-live="polite">
      <p v-if="error" class="fault">{{ error.message }}</p>
      <template v-else-if="found">
        <p v-if="found.refused" class="fault">{{ found.refused }}</p>
        <table v-if="found.rows.length" class="list">
          <thead>
            <tr>
              <th>{{ t('promise.move.columns.whose') }}</th>
              <th class="num">{{ t('promise.page.columns.quantity') }} ({{ unit }})</th>
              <th>{{ t('promise.move.columns.by') }}</th>
              <th>{{ t('promise.move.columns.before') }}</th>
              <th>{{ t('promise.move.columns.after') }}</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="(row, n) in found.rows" :key="n">
              <td>
                <RouterLink v-if="row.order_id" :to="`/orders/${row.order_id}`"
                  >{{ row.name }} · {{ row.order }}</RouterLink
                >
                <template v-else>{{ t('promise.page.someone') }}</template>
              </td>
              <td class="num">{{ figure(row.quantity) }}</td>
              <td>{{ day(row.by) }}</td>
              <td>{{ dayOr(row.before) }}</td>
              <td>
                <b>{{ dayOr(row.after) }}</b>
                <span v-if="row.late" class="late">{{ t('promise.move.late') }}</span>
              </td>
            </tr>
          </tbody>
        </table>
      </template>
      <p v-else class="soft">{{ t('promise.move.hint') }}</p>
    </div>
    <ElButton type="primary" native-type="submit" :disabled="!ready" :loading="busy">{{
      t('promise.move.act')
    }}</ElButton>
  </StepPanel>
</template>

<style scoped>
.side {
  flex: 1 1 320px;
}
.whole {
  flex-basis: 100%;
  min-width: 0;
  overflow-x: auto;
}
.late {
  color: var(--red);
  font-weight: 600;
  margin-left: 6px;
}
</style>
