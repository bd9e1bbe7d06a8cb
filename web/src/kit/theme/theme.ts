/** Light or dark: the person's choice, else the machine's. */
import { usePreferredDark, useStorage } from '@vueuse/core'
import { computed, watchEffect } from 'vue'

const chosen = useStorage<'' | 'light' | 'dark'>('vivid-theme', '')
const machineIsDark = usePreferredDark()

export const isDark = computed(() => (chosen.value ? chosen.value === 'dark' : machineIsDark.value))

export function toggleTheme(): void {
  chosen.value = isDark.value ? 'light' : 'dark'
}

watchEffect(() => {
  document.documentElement.dataset.theme = isDark.value ? 'dark' : 'light'
})
