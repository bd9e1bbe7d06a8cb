/**
 * What one works on stays in sight when the page above it grows: a verdict or a hint that comes late
 * pushes the cell down, and the bar of sums would hide it. Whoever scrolled away from it stays away.
 */
import { onBeforeUnmount, onMounted } from 'vue'

export function useStaysInSight(worked: () => HTMLElement | null): void {
  let seen = false
  /** How high the page was when it was last looked at: once it has grown, the cell is kept first. */
  let height = 0

  function active(): HTMLElement | null {
    const cell = worked()
    return cell?.contains(document.activeElement) ? cell : null
  }
  function look(): void {
    if (document.body.offsetHeight !== height) return
    const box = active()?.getBoundingClientRect()
    seen = box !== undefined && box.top >= 0 && box.bottom <= window.innerHeight
  }
  function keep(): void {
    height = document.body.offsetHeight
    if (seen) active()?.scrollIntoView({ block: 'nearest', inline: 'nearest' })
    else look()
  }
  let page: ResizeObserver | undefined
  onMounted(() => {
    window.addEventListener('scroll', look, { passive: true })
    document.addEventListener('focusin', look)
    if (typeof ResizeObserver === 'undefined') return
    page = new ResizeObserver(keep)
    page.observe(document.body)
  })
  onBeforeUnmount(() => {
    window.removeEventListener('scroll', look)
    document.removeEventListener('focusin', look)
    page?.disconnect()
  })
}
