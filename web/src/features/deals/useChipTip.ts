/** One tip for all chips: what a chip is, beside the one that is pointed at or focused. */
import { onUnmounted, ref, shallowRef } from 'vue'

const AFTER_MS = 400

export function useChipTip() {
  const at = shallowRef<HTMLElement>()
  const visible = ref(false)
  let timer: ReturnType<typeof setTimeout> | undefined
  function show(event: Event): void {
    const chip = (event.target as HTMLElement).closest<HTMLElement>('[data-deal]')
    hide()
    if (!chip) return
    timer = setTimeout(() => {
      at.value = chip
      visible.value = chip.isConnected
    }, AFTER_MS)
  }
  function hide(): void {
    clearTimeout(timer)
    visible.value = false
  }
  onUnmounted(hide)
  return { at, visible, show, hide }
}
