import { nextTick } from 'vue'
import type { Router } from 'vue-router'

/**
 * On a new page the focus goes to its top, unless the page put it somewhere itself, or the person types
 * outside it: who presses Ctrl K while the page is on its way goes on where they began.
 */
export function focusOnArrival(router: Router, top: () => HTMLElement | undefined): void {
  router.afterEach((to, from) => {
    if (to.path === from.path) return
    void nextTick(() => {
      const now = document.activeElement
      const typing = now instanceof HTMLInputElement || now instanceof HTMLTextAreaElement
      if (!typing && !top()?.contains(now)) top()?.focus({ preventScroll: true })
    })
  })
}
