<script setup lang="ts">
/** The bar at the foot: sums, always in sight, and the one next step. */
defineProps<{ sums: { label: string; value: string; main?: boolean; to?: string }[] }>()
</script>

<template>
  <footer class="bar">
    <dl>
      <div v-for="sum in sums" :key="sum.label" :class="{ main: sum.main }">
        <dt>{{ sum.label }}</dt>
        <dd>
          <RouterLink v-if="sum.to" :to="sum.to">{{ sum.value }}</RouterLink>
          <template v-else>{{ sum.value }}</template>
        </dd>
      </div>
    </dl>
    <div class="steps"><slot /></div>
  </footer>
</template>

<style scoped>
.bar {
  position: fixed;
  inset: auto 0 0 0;
  z-index: 20;
  min-height: var(--bar-height);
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
.steps {
  display: flex;
  gap: 10px;
  align-items: center;
  flex-wrap: wrap;
  justify-content: flex-end;
}
.steps :deep(.btn) {
  border-color: var(--on-bar-2);
}
.steps :deep(.btn.quiet) {
  color: var(--on-bar);
  border-color: transparent;
}
.steps :deep(.btn:hover) {
  background: rgb(255 255 255 / 12%);
}
.steps :deep(.btn.step) {
  height: 42px;
  padding: 0 24px 0 34px;
  border: 0;
  border-radius: 21px;
  font-size: 15px;
  font-weight: 700;
  color: #12332b;
  background: linear-gradient(100deg, var(--bar-accent) 19px, #fffdf7 20px);
}
.steps :deep(.btn.step:disabled) {
  opacity: 0.55;
}
@media (max-width: 820px) {
  .bar {
    flex-wrap: wrap;
    gap: 8px;
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
}
</style>
