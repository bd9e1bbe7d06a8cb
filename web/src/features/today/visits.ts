/** The order of a day's visits with one of them moved by a place; null where it has nowhere to go. */
export function movedTo(ids: number[], id: number, by: 1 | -1): number[] | null {
  const from = ids.indexOf(id)
  const to = from + by
  if (from < 0 || to < 0 || to >= ids.length) return null
  const found = ids.filter((each) => each !== id)
  found.splice(to, 0, id)
  return found
}
