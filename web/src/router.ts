import { createRouter, createWebHistory } from 'vue-router'
import { me } from './shared/session'

export const router = createRouter({
  history: createWebHistory('/'),
  scrollBehavior: (_to, _from, saved) => saved ?? { top: 0 },
  routes: [
    { path: '/', redirect: '/today' },
    {
      path: '/sign-in',
      name: 'sign-in',
      component: () => import('./features/signin/SignInPage.vue'),
      meta: { open: true, title: 'Sign in' },
    },
    {
      path: '/today',
      component: () => import('./features/today/TodayPage.vue'),
      meta: { title: 'Today' },
    },
    {
      path: '/deals',
      component: () => import('./features/deals/DealsPage.vue'),
      meta: { title: 'Deals' },
    },
    {
      path: '/timetable',
      component: () => import('./features/deals/TimetablePage.vue'),
      meta: { title: 'Timetable' },
    },
    {
      path: '/deals/new',
      component: () => import('./features/deals/NewDealPage.vue'),
      meta: { title: 'New deal' },
    },
    {
      path: '/deals/:id(\\d+)',
      component: () => import('./features/deals/DealPage.vue'),
      meta: { title: 'Deal' },
    },
    {
      path: '/customers',
      component: () => import('./features/customers/CustomersPage.vue'),
      meta: { title: 'Customers' },
    },
    {
      path: '/customers/:id(\\d+)',
      component: () => import('./features/customers/CustomerPage.vue'),
      meta: { title: 'Customer' },
    },
    {
      path: '/quotes',
      component: () => import('./features/quotes/QuotesPage.vue'),
      meta: { title: 'Quotes' },
    },
    {
      path: '/quotes/:id(\\d+)',
      component: () => import('./features/quotes/QuotePage.vue'),
      meta: { title: 'Quote' },
    },
    {
      path: '/quotes/:id(\\d+)/compare',
      component: () => import('./features/quotes/ComparePage.vue'),
      meta: { title: 'Compare revisions' },
    },
    {
      path: '/orders',
      component: () => import('./features/orders/OrdersPage.vue'),
      meta: { title: 'Orders' },
    },
    {
      path: '/orders/:id(\\d+)',
      component: () => import('./features/orders/OrderPage.vue'),
      meta: { title: 'Order' },
    },
    {
      path: '/prices',
      component: () => import('./features/prices/PricesPage.vue'),
      meta: { title: 'Prices' },
    },
    {
      path: '/papers',
      component: () => import('./features/papers/PapersPage.vue'),
      meta: { title: 'Quote papers' },
    },
    {
      path: '/forecast',
      component: () => import('./features/forecast/ForecastPage.vue'),
      meta: { title: 'Forecast' },
    },
    {
      path: '/:rest(.*)*',
      component: () => import('./features/signin/NowherePage.vue'),
      meta: { title: 'Nothing here' },
    },
  ],
})

router.beforeEach((to) => {
  if (!me.value && !to.meta.open) return { name: 'sign-in', query: { to: to.fullPath } }
  return true
})
router.afterEach((to) => {
  document.title = `${String(to.meta.title ?? '')} · Vivid Route`
})
