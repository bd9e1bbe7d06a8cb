<script setup lang="ts">
/** Start a quote for a deal or a customer, or from a mail that came: once, however often it is pressed. */
import { useQueryClient } from '@tanstack/vue-query'
import { useRouter } from 'vue-router'
import { api, take } from '@/api/client'
import { useAct } from '@/kit/act/useAct'
import { t } from '@/words'

const props = defineProps<{ deal?: number; customer?: number; mail?: number }>()
const client = useQueryClient()
const router = useRouter()
const { busy, run } = useAct()

const start = () =>
  run(async () => {
    const body = props.deal ? { deal_id: props.deal } : { customer_id: props.customer }
    const made = await take(api.POST('/api/quotes', { body }))
    void client.invalidateQueries()
    await router.push({ path: `/quotes/${made.id}`, query: { mail: props.mail } })
  })
defineExpose({ start })
</script>

<template>
  <ElButton
    :type="mail ? 'default' : 'primary'"
    :size="mail ? 'small' : 'default'"
    :loading="busy"
    @click="start"
    >{{ t(mail ? 'parts.route.fromMail' : 'parts.route.start') }}</ElButton
  >
</template>
