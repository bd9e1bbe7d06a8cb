import { describe, expect, it } from 'vitest'
import { effectScope, nextTick } from 'vue'
import { useKeptForm } from './useKeptForm'

const open = (person = 7) =>
  effectScope(true).run(() => useKeptForm(person, 'new-deal', 1, () => ({ title: '', days: 0 })))!

describe('a form for something new', () => {
  it('is there again after the page was left, for the one who typed it', async () => {
    open().form.value.title = 'Posts'
    await nextTick()
    expect(open().form.value.title).toBe('Posts')
    expect(open(8).form.value.title).toBe('')
  })
  it('begins anew once it is made, and leaves nothing behind', async () => {
    const form = open()
    form.form.value.title = 'Posts'
    await nextTick()
    form.clear()
    await nextTick()
    expect([form.form.value.title, localStorage.length, open().restored]).toEqual(['', 0, false])
  })
  it('takes in fields that came later with what they are at first', async () => {
    open().form.value.title = 'Posts'
    await nextTick()
    const wider = () => ({ title: '', days: 0, stage: 'spotted' })
    const form = effectScope(true).run(() => useKeptForm(7, 'new-deal', 1, wider))!
    expect(form.form.value).toEqual({ title: 'Posts', days: 0, stage: 'spotted' })
  })
})
