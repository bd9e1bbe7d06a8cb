<script setup lang="ts">
/** How much is called off, and by when it is wanted; a draft is begun with it. */
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import { useQueryClient } from '@tanstack/vue-query'
import { api, take } from '@/api/client'
import { say } from '@/kit/act/notices'
import { useAct } from '@/kit/act/useAct'
import DayField from '@/kit/form/DayField.vue'
import TextField from '@/kit/form/TextField.vue'
import { useFields } from '@/kit/form/unread'
import { figure, todayIso } from '@/kit/format/format'
import StepPanel from '@/kit/step/StepPanel.vue'
import { readQuantity } from '@/parts/line/numbers'
import { t } from '@/words'
import type { Agreement } from './queries'

const props = defineProps<{ agreement: Agreement }>()
const emit = defineEmits<{ close: [] }>()
const router = useRouter()
const client = useQueryClient()
/** Nothing typed: all that is due, else all that is left. */
const quantity = ref<string | null>(null)
const on = ref<string | null>(props.agreement.asks ? props.agreement.due_on : null)
const settle = useFields()
const { busy, run } = useAct()
const go = () =>
  run(async () => {
    if (settle()) return
    const made = await take(
      api.POST('/api/agreements/{pk}/call-off', {
        params: { path: { pk: props.agreement.id } },
        body: { quantity: quantity.value, on: on.value },
      }),
    )
    say(t('ahead.agreement.begun', { number: made.number }))
    await router.push(`/quotes/${made.revision_id}`)
    void client.invalidateQueries()
  })
</script>

<template>
  <StepPanel
    :title="t('ahead.agreement.callOffTitle', { number: agreement.number })"
    @close="emit('close')"
    @go="go"
  >
    <TextField
      :text="quantity === null ? '' : figure(quantity)"
      :label="t('ahead.agreement.howMuch', { unit: agreement.price_unit })"
      :placeholder="t('ahead.agreement.dueNow')"
      :read="readQuantity"
      figure
      @change="(value) => (quantity = value)"
    />
    <DayField v-model="on" :label="t('ahead.agreement.wanted')" :from="todayIso()" clearable />
    <ElButton type="primary" native-type="submit" :loading="busy">{{
      t('ahead.agreement.go')
    }}</ElButton>
  </StepPanel>
</template>
