import { nextTick } from 'vue'
import { START_LOCATION, type Router } from 'vue-router'

/**
 * On a new page the focus goes to its top, unless the page put it somewhere itself, or the person did
 * while the page was on its way: who presses Ctrl K early goes on typing where they began.
 */
export function focusOnArrival(router: Router, top: () => HTMLElement | undefined): void {
  let left: Element | null = null
  router.beforeEach((to, from) => {
    // The very first page is arrived at from nowhere; a redirect is still the same way.
    if (from !== START_LOCATION && !to.redirectedFrom) left = document.activeElement
  })
  router.afterEach((to, from) => {
    if (to.path === from.path) return
    void nextTick(() => {
      const now = document.activeElement
      const nobody = now === null || now === document.body || now === left
      if (nobody && !top()?.contains(now)) top()?.focus({ preventScroll: true })
    })
  })
}
