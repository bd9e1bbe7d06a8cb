import { createRouter, createWebHistory } from 'vue-router'
import { me } from '@/api/session'
import { titled } from '@/kit/show/title'
import { t, type Key } from '@/words'
import { routes } from './routes'
import { whenStarted } from './session'
import { whereTo } from './ways'

declare module 'vue-router' {
  interface RouteMeta {
    /** Open to everybody, signed in or not. */
    open?: true
    title?: Key
  }
}

export const router = createRouter({
  history: createWebHistory('/'),
  scrollBehavior: (to, from, saved) => saved ?? whereTo(to, from),
  routes,
})

router.beforeEach(async (to) => {
  await whenStarted()
  if (!me.value && !to.meta.open) return { name: 'sign-in', query: { to: to.fullPath } }
  return true
})

/** The tab says where one is; a page may put its own record's name before it. */
router.afterEach((to) => titled(t(to.meta.title ?? 'app.titles.nowhere')))
