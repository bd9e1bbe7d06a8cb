<script setup lang="ts">
/** The steps of a quote: the one that is next, and what else can be done. */
import { computed } from 'vue'
import type { Shapes } from '@/api/client'
import { me } from '@/api/session'
import Menu, { type MenuRow } from '@/kit/menu/Menu.vue'
import { ordering } from '@/features/quotes/ordering'
import { t } from '@/words'
import type { Panel } from './QuotePanels.vue'
import type { QuoteActs } from './useQuoteActs'

const props = defineProps<{
  quote: Shapes['QuoteOut']
  empty: boolean
  panel: Panel
  acts: QuoteActs
}>()
const emit = defineEmits<{ open: [panel: Panel] }>()
const draft = computed(() => props.quote.state === 'draft')
const last = computed(() => props.quote.revisions.at(-1))
const path = computed(() => `/api/revisions/${props.quote.id}`)
const busy = computed(() => props.acts.busy.value)

const more = computed<MenuRow[]>(() => {
  const { state, revisions, id } = props.quote
  const opens = (panel: Panel, label: string): MenuRow => ({
    label,
    act: () => emit('open', panel),
  })
  return [
    ...(draft.value
      ? [
          opens('solve', t('desk.more.solve')),
          opens('regulars', t('desk.more.regulars')),
          opens('earlier', t('desk.more.earlier')),
          opens('mail', t('reading.fromMail')),
          ...(props.empty ? [] : [opens('now', t('desk.more.orderNow'))]),
        ]
      : []),
    opens('copy', t('desk.more.copy')),
    ...(state === 'issued' || state === 'lapsed' ? [opens('decline', t('desk.more.decline'))] : []),
    ...(state === 'part_ordered' ? [opens('rest', t('desk.more.rest'))] : []),
    ...(state === 'lapsed' ? [opens('late', t('desk.more.late'))] : []),
    {
      label: t(draft.value ? 'desk.more.preview' : 'desk.more.pdf'),
      href: `${path.value}/pdf`,
      divided: true,
    },
    { label: t('desk.more.sheet'), href: `${path.value}/xlsx` },
    { label: t('desk.more.ubl'), href: `${path.value}/ubl` },
    ...(me.value?.sees_margin ? [{ label: t('desk.more.case'), href: `${path.value}/case` }] : []),
    { ...opens('files', t('files.menu')), divided: true },
    opens('history', t('desk.more.history')),
    ...(me.value?.keeps ? [opens('keep', t('desk.more.keep'))] : []),
    ...(revisions.length > 1
      ? [{ label: t('desk.more.compare'), to: `/quotes/${id}/compare` }]
      : []),
  ]
})
</script>

<template>
  <Menu :rows="more" :label="t('desk.more.label')" text />
  <a class="btn quiet" :href="`${path}/pdf`" target="_blank" rel="noopener">{{
    draft ? t('desk.bar.preview') : t('desk.bar.pdf')
  }}</a>
  <ElButton v-if="draft" class="step" :disabled="busy || empty" @click="emit('open', 'issue')">
    {{ t('desk.bar.issue', { letter: quote.letter }) }}
  </ElButton>
  <template v-else-if="quote.order_id">
    <RouterLink
      class="btn"
      :class="{ step: quote.state === 'ordered' }"
      :to="`/orders/${quote.order_id}`"
      >{{ t('desk.bar.order', { number: quote.order_number }) }}</RouterLink
    >
    <RouterLink v-if="quote.state === 'part_ordered'" class="btn step" :to="ordering(quote.id)">{{
      t('desk.bar.orderRest')
    }}</RouterLink>
  </template>
  <template v-else-if="quote.newest">
    <ElButton :disabled="busy" @click="acts.revise">{{ t('desk.bar.revise') }}</ElButton>
    <RouterLink v-if="quote.state === 'issued'" class="btn step" :to="ordering(quote.id)">{{
      t('desk.bar.writeOrder')
    }}</RouterLink>
    <ElButton
      v-else-if="quote.state === 'lapsed' && quote.may_allow"
      class="step"
      :disabled="busy"
      @click="emit('open', 'allow')"
    >
      {{ t('desk.bar.allow') }}
    </ElButton>
  </template>
  <RouterLink v-else-if="last" class="btn step" :to="`/quotes/${last.id}`">{{
    t('desk.bar.goTo', { letter: last.letter })
  }}</RouterLink>
</template>
