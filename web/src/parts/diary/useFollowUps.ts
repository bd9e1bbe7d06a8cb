/** What becomes of a follow-up: done, moved, given to a colleague, handed back; each with a way back. */
import { api, take, type Shapes } from '@/api/client'
import { me } from '@/api/session'
import type { Choice } from '@/kit/form/ChoiceField.vue'
import { say } from '@/kit/act/notices'
import { useAct } from '@/kit/act/useAct'
import { day } from '@/kit/format/format'
import { t } from '@/words'

export type Activity = Shapes['ActivityOut']
type Change = Omit<Shapes['FollowUpChange'], 'version'>

/** Whose a follow-up may be: the colleagues, and whoever has it now. */
export function whoseChoices(row: Pick<Activity, 'who' | 'who_id'>): Choice<number>[] {
  const known = (me.value?.colleagues ?? []).map(({ id, name }) => ({ value: id, label: name }))
  const there = known.some(({ value }) => value === row.who_id)
  return there ? known : [{ value: row.who_id, label: row.who }, ...known]
}
/** Whether a colleague asked this person for it, and waits to hear of it. */
export const isAsked = (row: Pick<Activity, 'asked_by_id' | 'done_at'>): boolean =>
  row.asked_by_id !== null && row.asked_by_id !== me.value?.id && !row.done_at

/** @param changed told after each change, with what it was; waited for */
export function useFollowUps(changed: (change: Partial<Change>) => unknown) {
  const { busy, run } = useAct()
  async function send(row: Activity, change: Partial<Change>): Promise<Activity> {
    const saved = await take(
      api.PATCH('/api/activities/{activity_id}', {
        params: { path: { activity_id: row.id } },
        body: { version: row.version, back: false, word: '', ...change },
      }),
    )
    await changed(change)
    return saved
  }
  const finish = (row: Activity, done: boolean, word = '') =>
    run(async () => {
      const saved = await send(row, { done, word })
      if (done) say(t('diary.done'), () => void finish(saved, false))
      return saved
    })
  const move = (row: Activity, due_on: string | null, { back = false, word = '' } = {}) =>
    run(async () => {
      if (!due_on || due_on === row.due_on) return
      const saved = await send(row, { due_on, word })
      const before = row.due_on
      say(
        t('diary.moved', { day: day(due_on) }),
        back ? undefined : () => void move(saved, before, { back: true }),
      )
    })
  const setTime = (row: Activity, starts: string | null) =>
    run(async () => {
      if (!starts || starts === row.starts) return
      await send(row, { starts })
      say(t('diary.movedTo', { at: starts }))
    })
  const give = (row: Activity, owner_id: number | null, back = false) =>
    run(async () => {
      if (owner_id === null || owner_id === row.who_id) return
      const saved = await send(row, { owner_id })
      if (back) say(t('diary.givenBack'))
      else say(t('diary.given', { name: saved.who }), () => void give(saved, row.who_id, true))
    })
  const handBack = (row: Activity, word: string) =>
    run(async () => {
      const saved = await send(row, { back: true, word })
      say(t('diary.handedBack', { name: saved.who }))
      return saved
    })
  /** Something else changed with it. */
  const again = () => changed({})
  return { busy, finish, move, setTime, give, handBack, again }
}
