/** Which page stands at which address; each is loaded when somebody comes to it. */
import type { RouteRecordRaw } from 'vue-router'
import { needs } from './ways'

export const routes: RouteRecordRaw[] = [
  { path: '/', redirect: '/today' },
  {
    path: '/sign-in',
    name: 'sign-in',
    component: () => import('@/features/signin/SignInPage.vue'),
    meta: { open: true, title: 'app.titles.signIn' },
  },
  {
    path: '/today',
    component: () => import('@/features/today/TodayPage.vue'),
    meta: { title: 'app.places.today' },
  },
  {
    path: '/deals',
    component: () => import('@/features/deals/DealsPage.vue'),
    meta: { title: 'app.places.deals' },
  },
  {
    path: '/timetable',
    component: () => import('@/features/deals/TimetablePage.vue'),
    meta: { title: 'app.titles.timetable' },
  },
  {
    path: '/deals/new',
    component: () => import('@/features/deals/NewDealPage.vue'),
    meta: { title: 'app.titles.newDeal' },
  },
  {
    path: '/deals/:id(\\d+)',
    component: () => import('@/features/deals/DealPage.vue'),
    meta: { title: 'app.titles.deal' },
  },
  {
    path: '/pipeline',
    component: () => import('@/features/deals/PipelinePage.vue'),
    meta: { title: 'deals.pipeline.title' },
  },
  {
    path: '/mail',
    component: () => import('@/features/mails/MailsPage.vue'),
    meta: { title: 'mail.title' },
  },
  {
    path: '/diary',
    component: () => import('@/features/diary/DiaryPage.vue'),
    meta: { title: 'diary.page.title' },
  },
  {
    path: '/visits',
    component: () => import('@/features/today/VisitsPage.vue'),
    meta: { title: 'today.visits.title' },
  },
  {
    path: '/leads',
    component: () => import('@/features/leads/LeadsPage.vue'),
    meta: { title: 'leads.title' },
  },
  {
    path: '/leads/new',
    component: () => import('@/features/leads/NewLeadPage.vue'),
    meta: { title: 'leads.new' },
  },
  {
    path: '/leads/strangers',
    component: () => import('@/features/leads/StrangersPage.vue'),
    meta: { title: 'leads.strangers.title' },
  },
  {
    path: '/leads/file',
    component: () => import('@/features/leads/LeadFilePage.vue'),
    meta: { title: 'leads.file.title' },
  },
  {
    path: '/leads/:id(\\d+)',
    component: () => import('@/features/leads/LeadPage.vue'),
    meta: { title: 'leads.lead' },
  },
  {
    path: '/customers',
    component: () => import('@/features/customers/CustomersPage.vue'),
    meta: { title: 'app.places.customers' },
  },
  {
    path: '/customers/:id(\\d+)',
    component: () => import('@/features/customers/CustomerPage.vue'),
    meta: { title: 'app.titles.customer' },
  },
  {
    path: '/customers/:id(\\d+)/happened',
    component: () => import('@/features/customers/HappenedPage.vue'),
    meta: { title: 'customers.happened.title' },
  },
  {
    path: '/customers/:id(\\d+)/regulars',
    component: () => import('@/features/customers/RegularsPage.vue'),
    meta: { title: 'regulars.title' },
  },
  {
    path: '/customers/file',
    component: () => import('@/features/customers/FilePage.vue'),
    meta: { title: 'customers.file.title' },
  },
  {
    path: '/customers/:id(\\d+)/merge',
    component: () => import('@/features/customers/MergePage.vue'),
    beforeEnter: needs('other', (to) => `/customers/${String(to.params.id)}`),
    meta: { title: 'customers.merge.title' },
  },
  {
    path: '/invoices',
    component: () => import('@/features/ledger/InvoicesPage.vue'),
    meta: { title: 'revenue.list.invoices' },
  },
  {
    path: '/backlog',
    component: () => import('@/features/ledger/BacklogPage.vue'),
    meta: { title: 'revenue.list.backlog' },
  },
  {
    path: '/invoices/:id(\\d+)',
    component: () => import('@/features/ledger/InvoicePage.vue'),
    meta: { title: 'customers.documents.invoice' },
  },
  {
    path: '/deliveries/:id(\\d+)',
    component: () => import('@/features/ledger/DeliveryPage.vue'),
    meta: { title: 'customers.documents.delivery' },
  },
  {
    path: '/payments/:id(\\d+)',
    component: () => import('@/features/ledger/PaymentPage.vue'),
    meta: { title: 'customers.documents.payment' },
  },
  {
    path: '/agreements',
    component: () => import('@/features/ahead/AgreementsPage.vue'),
    meta: { title: 'ahead.agreements.title' },
  },
  {
    path: '/agreements/:id(\\d+)',
    component: () => import('@/features/ahead/AgreementPage.vue'),
    meta: { title: 'ahead.agreements.title' },
  },
  {
    path: '/standing-orders/:id(\\d+|new)',
    component: () => import('@/features/ahead/StandingOrderPage.vue'),
    meta: { title: 'ahead.standing.title' },
  },
  {
    path: '/quotes',
    component: () => import('@/features/quotes/pages/QuotesPage.vue'),
    meta: { title: 'app.places.quotes' },
  },
  {
    path: '/quotes/remind',
    component: () => import('@/features/quotes/pages/RemindPage.vue'),
    meta: { title: 'quotes.remind.title' },
  },
  {
    path: '/quotes/:id(\\d+)',
    component: () => import('@/features/quotes/pages/QuotePage.vue'),
    meta: { title: 'app.titles.quote' },
  },
  {
    path: '/quotes/:id(\\d+)/compare',
    component: () => import('@/features/quotes/pages/ComparePage.vue'),
    meta: { title: 'app.titles.compare' },
  },
  {
    path: '/orders',
    component: () => import('@/features/orders/OrdersPage.vue'),
    meta: { title: 'app.places.orders' },
  },
  {
    path: '/orders/new',
    component: () => import('@/features/orders/new/NewOrderPage.vue'),
    beforeEnter: needs('from', () => '/quotes?state=issued'),
    meta: { title: 'app.titles.newOrder' },
  },
  {
    path: '/orders/news',
    component: () => import('@/features/orders/NewsPage.vue'),
    meta: { title: 'app.titles.news' },
  },
  {
    path: '/route/:kind(deal|quote|order)/:id(\\d+)',
    component: () => import('@/features/route/RoutePage.vue'),
    meta: { title: 'route.whole' },
  },
  {
    path: '/handovers',
    component: () => import('@/features/handovers/HandoversPage.vue'),
    meta: { title: 'handovers.title' },
  },
  {
    path: '/back-office',
    component: () => import('@/features/sync/SyncPage.vue'),
    meta: { title: 'sync.title' },
  },
  {
    path: '/orders/:id(\\d+)',
    component: () => import('@/features/orders/OrderPage.vue'),
    meta: { title: 'app.titles.order' },
  },
  {
    path: '/items/:id(\\d+)',
    component: () => import('@/features/items/ItemPage.vue'),
    meta: { title: 'promise.column' },
  },
  {
    path: '/prices',
    component: () => import('@/features/prices/PricesPage.vue'),
    meta: { title: 'app.places.prices' },
  },
  {
    path: '/papers',
    component: () => import('@/features/papers/PapersPage.vue'),
    meta: { title: 'app.titles.papers' },
  },
  {
    path: '/account',
    component: () => import('@/features/account/AccountPage.vue'),
    meta: { title: 'app.titles.account' },
  },
  {
    path: '/forecast',
    component: () => import('@/features/forecast/ForecastPage.vue'),
    meta: { title: 'app.places.forecast' },
  },
  {
    path: '/:rest(.*)*',
    component: () => import('@/app/shell/NowherePage.vue'),
    meta: { title: 'app.titles.nowhere' },
  },
]
