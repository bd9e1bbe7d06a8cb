<script lang="ts">
export interface MenuRow {
  label: string
  /** Where it leads, within the application. */
  to?: string
  /** Where it leads, as a file or a page of its own. */
  href?: string
  act?: () => void
  disabled?: boolean
  /** A line above it. */
  divided?: boolean
}
</script>

<script setup lang="ts">
/** A button that opens a menu: arrows move, Enter chooses, Esc closes, the focus comes back. */
import { useRouter } from 'vue-router'

defineProps<{
  rows: MenuRow[]
  label: string
  /** In the label's place where there is little room. */
  short?: string
  text?: boolean
  small?: boolean
}>()
const router = useRouter()

function choose(row: MenuRow): void {
  if (row.to) void router.push(row.to)
  else if (row.href) window.open(row.href, '_blank', 'noopener')
  else row.act?.()
}
</script>

<template>
  <ElDropdown trigger="click" placement="bottom-end" @command="choose">
    <ElButton :text="text" :size="small ? 'small' : undefined" :aria-label="label">
      <span :class="{ roomy: short }">{{ label }}</span>
      <span v-if="short" class="tight" aria-hidden="true">{{ short }}</span>
    </ElButton>
    <template #dropdown>
      <ElDropdownMenu :aria-label="label">
        <ElDropdownItem
          v-for="row in rows"
          :key="row.label"
          :command="row"
          :disabled="row.disabled"
          :divided="row.divided"
          >{{ row.label }}</ElDropdownItem
        >
      </ElDropdownMenu>
    </template>
  </ElDropdown>
</template>

<style scoped>
.tight {
  display: none;
}
@media (max-width: 480px) {
  .roomy {
    display: none;
  }
  .tight {
    display: inline;
  }
}
</style>
