<script setup lang="ts">
/** One stop of the day: what, for whom, by when; done here, or opened. */
import { computed, ref } from 'vue'
import type { Shapes } from '@/api/client'
import { figure, units } from '@/kit/format/format'
import { differing } from '@/parts/customer/books'
import OtherWays from '@/parts/promise/OtherWays.vue'
import { t } from '@/words'
import { title, when } from './stops'

const props = defineProps<{ stop: Shapes['DueStop'] }>()
defineEmits<{ finish: []; seen: [] }>()

/** Money, or of an agreement so much of its unit. */
const worth = computed(() => {
  const { kind, amount, currency } = props.stop
  if (!amount) return ''
  const goods = ['call_off_due', 'commitment_missed'].includes(kind) && currency.length !== CODE
  return goods ? units(amount, currency) : `${figure(amount)} ${currency}`
})
const CODE = 3
/** Who asks for it, or what a colleague lets one know. */
const detail = computed(() => {
  const { who, told_id, detail } = props.stop
  if (!who) return detail
  if (told_id) return detail ? t('today.says', { who, word: detail }) : who
  return [t('today.asks', { who }), detail].filter(Boolean).join(' · ')
})
const more = ref(false)
const late = computed(
  () =>
    props.stop.days > 0 && !['stumbled', 'news', 'trouble', 'stopped'].includes(props.stop.kind),
)
</script>

<template>
  <li class="stop" :class="{ wide: !stop.customer && !stop.amount }">
    <span class="dot" aria-hidden="true" />
    <RouterLink v-if="stop.to" class="title" :to="stop.to">{{ title(stop) }}</RouterLink>
    <b v-else class="title">{{ title(stop) }}</b>
    <span class="who">{{ stop.customer }}</span>
    <span class="soft detail"
      >{{ stop.books.length ? differing(stop.books) : detail
      }}<ElButton
        v-if="stop.line"
        class="more"
        size="small"
        text
        :aria-expanded="more"
        @click="more = !more"
        >{{ t('promise.else.open') }}</ElButton
      ></span
    >
    <span class="num">{{ worth }}</span>
    <span class="num when" :class="{ late }">{{ when(stop) }}</span>
    <ElButton
      v-if="stop.told_id"
      size="small"
      :aria-label="t('today.seenWhat', { what: title(stop) })"
      @click="$emit('seen')"
      >{{ t('today.seen') }}</ElButton
    >
    <ElButton
      v-else-if="stop.activity_id"
      size="small"
      :aria-label="t('diary.finish', { what: title(stop) })"
      @click="$emit('finish')"
      >{{ t('diary.finishAct') }}</ElButton
    >
    <RouterLink
      v-else
      class="btn small"
      :to="stop.to"
      :aria-label="t('today.openWhat', { what: title(stop) })"
      >{{ t('today.open') }}</RouterLink
    >
    <OtherWays v-if="more && stop.line" class="below" v-bind="stop.line" />
  </li>
</template>

<style scoped>
.stop {
  position: relative;
  display: grid;
  grid-template-columns:
    20px minmax(160px, 1.6fr) minmax(120px, 1fr) minmax(100px, 1.3fr)
    130px 90px 66px;
  gap: 12px;
  align-items: center;
  min-height: 34px;
  border-bottom: 1px solid var(--rule);
}
.dot {
  width: 9px;
  height: 9px;
  margin-left: 5.5px;
  border-radius: 50%;
  background: var(--ink);
}
.title {
  font-weight: 600;
}
.detail {
  display: -webkit-box;
  overflow: hidden;
  -webkit-box-orient: vertical;
  -webkit-line-clamp: 2;
  line-clamp: 2;
}
/* What is of no customer has its room for its words. */
.wide .who,
.wide .num:not(.when) {
  display: none;
}
.wide .detail {
  grid-column: 3 / 6;
  -webkit-line-clamp: none;
  line-clamp: none;
}
.more {
  margin-left: 8px;
  height: auto;
  padding: 0 4px;
}
.below {
  grid-column: 2 / -1;
  padding-bottom: 6px;
}
.btn.small {
  justify-content: center;
}
@media (max-width: 820px) {
  .stop {
    grid-template-columns: 20px 1fr auto;
    padding: 6px 0;
    gap: 2px 8px;
  }
  .stop .who,
  .stop .detail,
  .stop .num {
    grid-column: 2;
    text-align: left;
  }
  .stop :is(.btn, .el-button) {
    grid-column: 3;
    grid-row: 1 / span 2;
  }
}
</style>
