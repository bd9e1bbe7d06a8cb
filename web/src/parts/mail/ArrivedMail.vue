<script setup lang="ts">
/**
 * A mail that came from a customer: who, when, its words, its files, what it says to an offer, and what is done with
 * it. Its words are shown; as it was laid out only where that is asked for.
 */
import { computed, defineAsyncComponent, ref } from 'vue'
import { day, moment } from '@/kit/format/format'
import StartQuote from '@/parts/route/StartQuote.vue'
import { t, tn } from '@/words'
import type { Arrived } from './mails'

const props = defineProps<{ mail: Arrived; may: boolean; busy: boolean; open?: boolean }>()
const emit = defineEmits<{ answer: []; waits: [now: boolean] }>()
const LaidOutMail = defineAsyncComponent(() => import('./LaidOutMail.vue'))
const laidOut = ref(false)
const SAYS = ['accepts', 'declines', 'asks', 'away'] as const
const says = computed(() => SAYS.find((each) => each === props.mail.says?.kind))
const state = computed(() => {
  if (props.mail.automatic) return t('mail.automatic')
  return t(props.mail.waits ? 'mail.waits' : 'mail.came')
})
/** The order that its writer says yes to, with what the mail gives. */
const order = computed(() =>
  says.value === 'accepts' && props.mail.kind === 'quote'
    ? `/orders/new?from=${props.mail.record}&mail=${props.mail.id}`
    : '',
)
</script>

<template>
  <details class="came" :class="{ waits: mail.waits }" :open="open">
    <summary>
      <b>{{ state }}</b>
      <span>{{ mail.subject }}</span>
      <span class="soft">{{ mail.sender }}</span>
      <small class="soft">{{ moment(mail.written_at) }}</small>
    </summary>
    <p v-if="says" class="says" :class="says">
      <b>{{ t(`mail.says.${says}`) }}</b>
      <q>{{ mail.says?.sentence }}</q>
      <span v-if="!mail.says?.sure" class="soft">{{ t('mail.notSure') }}</span>
      <span v-if="mail.says?.order_number">{{
        t('orders.theirNumber', { number: mail.says.order_number })
      }}</span>
      <span v-if="mail.says?.wanted_on">{{
        t('mail.wantedOn', { day: day(mail.says.wanted_on) })
      }}</span>
      <RouterLink v-if="order && may" class="btn small" :to="order">{{
        t('mail.accept')
      }}</RouterLink>
    </p>
    <p v-if="mail.sender !== mail.address" class="soft">{{ mail.address }}</p>
    <LaidOutMail v-if="laidOut" :mail="mail.id" :sender="mail.sender" :pictures="mail.pictures" />
    <pre v-else>{{ mail.text }}</pre>
    <ElButton v-if="mail.laid_out" size="small" text @click="laidOut = !laidOut">{{
      t(laidOut ? 'mail.wordsAlone' : 'mail.asLaidOut')
    }}</ElButton>
    <p v-if="mail.files.length" class="files">
      <a
        v-for="file in mail.files"
        :key="file.id"
        :href="`/api/arrived-files/${file.id}`"
        download
        >{{ file.name }}</a
      >
    </p>
    <p v-if="mail.left_out" class="soft">{{ tn('mail.filesLeft', mail.left_out) }}</p>
    <p v-if="mail.settled_by && !mail.waits" class="soft">
      {{ t('mail.settledBy', { who: mail.settled_by }) }}
    </p>
    <div v-if="may && !mail.automatic" class="acts">
      <ElButton size="small" type="primary" @click="emit('answer')">{{
        t('mail.answer')
      }}</ElButton>
      <StartQuote :deal="mail.deal_id ?? undefined" :customer="mail.customer_id" :mail="mail.id" />
      <ElButton size="small" text :disabled="busy" @click="emit('waits', !mail.waits)">{{
        t(mail.waits ? 'mail.needs' : 'mail.waitsAfterAll')
      }}</ElButton>
    </div>
  </details>
</template>

<style scoped>
summary {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 12px;
  align-items: baseline;
  min-height: 28px;
  cursor: pointer;
}
p {
  margin: 8px 0 0;
}
pre {
  margin: 6px 0;
  padding-left: 14px;
  border-left: 4px solid var(--rule);
  font: inherit;
  white-space: pre-wrap;
}
.waits pre {
  border-color: var(--amber);
}
.says {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
  align-items: center;
  padding: 4px 10px;
  background: var(--amber-soft);
}
details[open] {
  margin-bottom: 12px;
}
.acts {
  margin-top: 10px;
}
.files,
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
}
</style>
