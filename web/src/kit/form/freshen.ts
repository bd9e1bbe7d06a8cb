/**
 * A form over a record that others change as well: what is told anew is taken over, but for what the person
 * has typed. Fields are compared as JSON.
 *
 * @param form what is typed, changed in place
 * @param before what the form was filled with
 * @param now what is told
 * @returns the fields that were typed and are told differently from before: both have changed them
 */
export function freshen<T extends object>(form: T, before: T, now: T): (keyof T)[] {
  const same = (one: unknown, other: unknown) => JSON.stringify(one) === JSON.stringify(other)
  const clashes: (keyof T)[] = []
  for (const name of Object.keys(now) as (keyof T)[]) {
    if (same(form[name], before[name])) form[name] = now[name]
    else if (!same(now[name], before[name]) && !same(now[name], form[name])) clashes.push(name)
  }
  return clashes
}
