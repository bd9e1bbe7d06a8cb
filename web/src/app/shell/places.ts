/** The places of the application, in their order on the line. */
import type { Key } from '@/words'

export interface Place {
  name: Key
  to: string
  /** The addresses that belong to it. */
  at: string[]
  /** Only for those who sell. */
  sells: boolean
}

export const PLACES: Place[] = [
  { name: 'app.places.today', to: '/today', at: ['/today'], sells: false },
  {
    name: 'app.places.deals',
    to: '/deals',
    at: ['/deals', '/timetable', '/leads', '/pipeline'],
    sells: true,
  },
  {
    name: 'app.places.customers',
    to: '/customers',
    at: ['/customers', '/agreements', '/standing-orders'],
    sells: false,
  },
  { name: 'app.places.quotes', to: '/quotes', at: ['/quotes'], sells: true },
  { name: 'app.places.orders', to: '/orders', at: ['/orders'], sells: false },
  { name: 'app.places.forecast', to: '/forecast', at: ['/forecast'], sells: true },
  { name: 'app.places.prices', to: '/prices', at: ['/prices'], sells: true },
]
