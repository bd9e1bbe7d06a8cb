import type { RouteLocationNormalized } from 'vue-router'

/** Back comes back to where one was; a filter stays where it is; another page of a list begins at its top. */
export function whereTo(to: Place, from: Place) {
  if (to.hash) return { el: to.hash, top: 8 }
  const stays = to.path === from.path
  const turned = to.query.page !== from.query.page && !to.params.id
  return stays && !turned ? false : { top: 0 }
}
type Place = Pick<RouteLocationNormalized, 'hash' | 'path' | 'query' | 'params'>

/** A page about what its address names: without a number there one is led to where it is chosen. */
export function needs(name: string, otherwise: (to: Pick<Place, 'params'>) => string) {
  return (to: Pick<Place, 'query' | 'params'>) =>
    /^[1-9]\d*(,[1-9]\d*)*$/.test(String(to.query[name] ?? '')) || otherwise(to)
}
