<script setup lang="ts">
/** Start a quote for a deal or a customer: once, however often it is pressed. */
import { useQueryClient } from '@tanstack/vue-query'
import { useRouter } from 'vue-router'
import { api, take } from '@/api/client'
import { useAct } from '@/kit/act/useAct'
import { t } from '@/words'

const props = defineProps<{ deal?: number; customer?: number }>()
const client = useQueryClient()
const router = useRouter()
const { busy, run } = useAct()

const start = () =>
  run(async () => {
    const body = props.deal ? { deal_id: props.deal } : { customer_id: props.customer }
    const made = await take(api.POST('/api/quotes', { body }))
    void client.invalidateQueries()
    await router.push(`/quotes/${made.id}`)
  })
defineExpose({ start })
</script>

<template>
  <ElButton type="primary" :loading="busy" @click="start">{{ t('parts.route.start') }}</ElButton>
</template>
