import { describe, expect, it } from 'vitest'
import { bodyOf, emptyForm, placeOf, type ActivityDraft } from './activity'

const about = { deal_id: null, customer_id: 7 }
const typed = (more: Partial<ActivityDraft>): ActivityDraft => ({
  ...emptyForm('note', '2026-12-08'),
  text: 'Frost',
  owner: 3,
  ...more,
})

describe('what is sent of an activity', () => {
  it('has of a note neither day, place nor what comes next', () => {
    const sent = bodyOf(typed({ where: 'North gate', next: 'Ring', visit: true }), about)
    expect(sent).toMatchObject({ kind: 'note', day: null, due_on: null, where: '', visit: false, owner_id: null, then: null }) // prettier-ignore
  })

  it('has of a call what comes next, only where something is said of it', () => {
    const call = typed({ kind: 'call', next: 'Ring again', due: '2026-12-08' })
    expect(bodyOf(call, about, { id: 5 })).toMatchObject({
      contact_id: 5,
      due_on: null,
      then: { text: 'Ring again', due_on: '2026-12-08', owner_id: null },
    })
    expect(bodyOf({ ...call, next: '  ' }, about).then).toBeNull()
    expect(bodyOf({ ...call, due: null }, about).then).toBeNull()
  })

  it('has of a follow-up its day and whose it is, and its place where it is a visit', () => {
    const planned = typed({ kind: 'follow_up', starts: '09:30', where: 'North gate' })
    expect(bodyOf(planned, about)).toMatchObject({ due_on: '2026-12-08', owner_id: 3, starts: null, where: '', day: null }) // prettier-ignore
    expect(bodyOf({ ...planned, visit: true }, about)).toMatchObject({ starts: '09:30', where: 'North gate', visit: true }) // prettier-ignore
  })

  it('is told with its hour and its place', () => {
    expect(placeOf({ starts: '09:30', where: 'North gate' })).toBe('09:30, North gate')
    expect(placeOf({ starts: '', where: '' })).toBe('')
  })
})
