<script lang="ts">
export interface Sum {
  label: string
  value: string
  /** The one that counts; on a phone it alone stands in the bar. */
  main?: boolean
  /** Where what it sums is shown. */
  to?: string
}
</script>

<script setup lang="ts">
/**
 * The bar at the foot: sums, always in sight, and the one next step. On a phone it folds to one line.
 * Its height is told to the page, so that nothing hides behind it.
 */
import { useElementSize } from '@vueuse/core'
import { computed, onUnmounted, ref, useTemplateRef, watchEffect } from 'vue'
import { t } from '@/words'

const props = defineProps<{ sums: Sum[]; stale?: boolean }>()
const bar = useTemplateRef<HTMLElement>('bar')
const { height } = useElementSize(bar, undefined, { box: 'border-box' })
const root = document.documentElement
watchEffect(() => height.value && root.style.setProperty('--bar-height', `${height.value}px`))
onUnmounted(() => root.style.removeProperty('--bar-height'))
const whole = ref(false)
const main = computed(() => props.sums.find((sum) => sum.main) ?? props.sums.at(-1))
</script>

<template>
  <footer ref="bar" class="bar" :class="{ whole, stale }">
    <dl :aria-busy="stale">
      <div v-for="sum in sums" :key="sum.label" :class="{ main: sum.main, one: sum === main }">
        <dt>{{ sum.label }}</dt>
        <dd>
          <RouterLink v-if="sum.to" :to="sum.to">{{ sum.value }}</RouterLink>
          <template v-else>{{ sum.value }}</template>
        </dd>
      </div>
    </dl>
    <button
      v-if="sums.length > 1"
      class="unfold"
      :aria-expanded="whole"
      :aria-label="t('kit.sums.all')"
      @click="whole = !whole"
    >
      {{ whole ? '▾' : '▴' }}
    </button>
    <div class="steps"><slot /></div>
  </footer>
</template>

<style scoped>
.bar {
  position: fixed;
  inset: auto 0 0 0;
  z-index: 20;
  min-height: 68px;
  padding: 8px var(--gutter);
  background: var(--bar);
  color: var(--on-bar);
  display: flex;
  align-items: center;
  justify-content: space-between;
  gap: 16px;
}
dl {
  display: flex;
  gap: 6px 30px;
  align-items: flex-end;
  flex-wrap: wrap;
  min-width: 0;
}
.stale dd {
  opacity: 0.6;
}
dt {
  font-size: 12px;
  color: var(--on-bar-2);
  white-space: nowrap;
}
dd {
  font-size: 17px;
  font-weight: 700;
  white-space: nowrap;
}
.main dd {
  font-size: 24px;
  line-height: 1.1;
}
.unfold {
  display: none;
}
.steps {
  display: flex;
  gap: 10px;
  align-items: center;
  flex-wrap: wrap;
  justify-content: flex-end;
}
.steps :deep(:is(.btn, .el-button)) {
  --el-button-text-color: var(--on-bar);
  --el-button-border-color: var(--on-bar-2);
  --el-button-hover-bg-color: rgb(255 255 255 / 12%);
  --el-button-hover-text-color: var(--on-bar);
  --el-button-hover-border-color: var(--on-bar);
  --el-button-active-bg-color: rgb(255 255 255 / 12%);
  --el-button-active-text-color: var(--on-bar);
  --el-button-disabled-text-color: var(--on-bar-2);
  border-color: var(--on-bar-2);
  color: var(--on-bar);
}
.steps :deep(:is(.btn.quiet, .el-button.is-text)) {
  border-color: transparent;
}
.steps :deep(:is(.btn, .el-button):hover) {
  background: rgb(255 255 255 / 12%);
}
.steps :deep(.step) {
  height: 42px;
  padding: 0 24px 0 34px;
  border: 0;
  border-radius: 21px;
  font-size: 15px;
  font-weight: 700;
  color: #12332b;
  background: linear-gradient(100deg, var(--bar-accent) 19px, #fffdf7 20px);
}
.steps :deep(.step:hover) {
  color: #12332b;
  background: linear-gradient(100deg, var(--bar-accent) 19px, #fff 20px);
}
.steps :deep(.step:is(:disabled, .is-disabled)) {
  opacity: 0.55;
}
@media (max-width: 820px) {
  .bar {
    gap: 8px;
    min-height: 60px;
  }
  dl {
    gap: 4px 16px;
  }
  dd {
    font-size: 14px;
  }
  .main dd {
    font-size: 18px;
  }
  .bar:not(.whole) dl > div:not(.one) {
    display: none;
  }
  .bar.whole {
    flex-wrap: wrap;
  }
  .unfold {
    display: block;
    flex: none;
    width: 40px;
    height: 40px;
    border: 0;
    background: none;
    color: var(--on-bar);
    font-size: 16px;
    cursor: pointer;
  }
  .steps {
    flex-wrap: nowrap;
    margin-left: auto;
    gap: 6px;
  }
  .steps :deep(a.quiet) {
    display: none;
  }
  .steps :deep(.step) {
    padding: 0 14px 0 26px;
    font-size: 14px;
  }
}
</style>
