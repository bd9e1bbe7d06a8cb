import { beforeEach, describe, expect, it, vi } from 'vitest'
import { Fault } from '@/api/fault'
import { createDraft } from './draftStore'
import { keptDraft } from './keptDraft'
import type { DraftStore, Stored } from './types'

/**
 * A server with one document of words. It tells content that it has already by the content, as ours
 * does; what it does with the next saves is said before.
 */
function server(words = 'A') {
  const there = { state: words, version: 1, open: true }
  const fates: ('lost before' | 'lost after' | Fault)[] = []
  const waiting: (() => void)[] = []
  let slow = false
  const sent: string[] = []
  async function save(state: string, version: number): Promise<{ version: number }> {
    sent.push(state)
    const fate = fates.shift()
    if (slow) await new Promise<void>((go) => waiting.push(go))
    if (fate === 'lost before') throw new Fault(0, 'offline', '')
    if (fate instanceof Fault) throw fate
    if (state !== there.state || version > there.version) {
      if (!there.open) throw new Fault(409, 'issued', '')
      if (version !== there.version) throw new Fault(409, 'stale', '')
      there.state = state
      there.version += 1
    }
    if (fate === 'lost after') throw new Fault(0, 'offline', '')
    return { version: there.version }
  }
  return {
    there,
    fates,
    sent,
    save,
    read: (): Promise<Stored<string>> => Promise.resolve({ ...there }),
    slowly: () => (slow = true),
    /** Answer the save that waits, and those after it. */
    answer: async () => {
      slow = false
      waiting.splice(0).forEach((go) => go())
      await vi.advanceTimersByTimeAsync(0)
    },
    /** Somebody else saves. */
    other: (state: string) => {
      there.state = state
      there.version += 1
    },
  }
}
let world: ReturnType<typeof server>
const open = (from: Partial<Stored<string>> = {}, person = 7): DraftStore<string> =>
  createDraft({ ...world.there, ...from }, { ...world, kept: keptDraft(person, 'quote-1', 1) })
const pass = (ms: number) => vi.advanceTimersByTimeAsync(ms)

beforeEach(() => {
  vi.useFakeTimers()
  world = server()
})

describe('what is typed', () => {
  it('is saved when the typing pauses, once, and says so', async () => {
    const desk = open()
    desk.change('AB')
    expect(desk.saving.value).toBe('typing')
    await pass(200)
    desk.change('ABC')
    await pass(200)
    expect(world.sent).toEqual([])
    await pass(200)
    expect([world.sent, desk.saving.value, desk.version()]).toEqual([['ABC'], 'saved', 2])
  })
  it('is saved now and then although nobody pauses', async () => {
    const desk = open()
    for (let n = 0; n < 20; n++) {
      desk.change(`A${n}`)
      await pass(200)
    }
    expect(world.sent.length).toBeGreaterThan(0)
  })
  it('during a save goes with the next; whoever flushes waits for both', async () => {
    const desk = open()
    world.slowly()
    desk.change('AB')
    await pass(400)
    desk.change('ABC')
    const both = [desk.flush(), desk.flush()]
    await world.answer()
    expect(await Promise.all(both)).toEqual([true, true])
    expect([world.there.state, world.sent]).toEqual(['ABC', ['AB', 'ABC']])
  })
  it('stays after the page is closed and opened again', async () => {
    const desk = open()
    desk.change('AB')
    await pass(200)
    const again = open()
    expect(again.state.value).toBe('AB')
    await pass(400)
    expect([world.there.state, again.saving.value]).toEqual(['AB', 'saved'])
    expect(open().state.value).toBe('AB')
    expect(localStorage.length).toBe(0)
  })
  it('of one person is not taken up by another', async () => {
    open().change('AB')
    await pass(200)
    expect(open({}, 8).state.value).toBe('A')
  })
  it('in another shape, or unreadable, is let go of', async () => {
    localStorage.setItem('vivid-draft:7:quote-1:x', '{"version":1,"state":"old","shape":0}')
    expect(open().state.value).toBe('A')
    localStorage.setItem('vivid-draft:7:quote-1:x', '{"version":')
    expect(open().state.value).toBe('A')
  })
  it('that the browser cannot keep is told', async () => {
    const kept = keptDraft<string>(7, 'quote-1', 1)
    const full = { ...kept, put: () => false }
    const desk = createDraft({ ...world.there }, { ...world, kept: full })
    world.fates.push('lost before')
    desk.change('AB')
    await pass(400)
    expect(desk.unkept.value).toBe(true)
    await pass(2000)
    expect([desk.saving.value, desk.unkept.value]).toEqual(['saved', false])
  })
})

describe('a line that is down', () => {
  it('is told, tried again ever less often, and heals by itself', async () => {
    const desk = open()
    world.fates.push('lost before', 'lost before')
    desk.change('AB')
    await pass(400)
    expect(desk.saving.value).toBe('offline')
    expect(await Promise.race([desk.flush()])).toBe(false)
    expect(world.there.state).toBe('A')
    await pass(10_000)
    expect([world.there.state, desk.saving.value]).toEqual(['AB', 'saved'])
  })
  it('that took the answer only is no clash, whatever was typed since', async () => {
    const desk = open()
    world.fates.push('lost after')
    desk.change('AB')
    await pass(400)
    desk.change('ABC')
    await pass(2000)
    expect([world.there.state, desk.saving.value]).toEqual(['ABC', 'saved'])
    expect(world.sent).toEqual(['AB', 'AB', 'ABC'])
  })
  it('that took the answer, and the page closed: still no clash', async () => {
    const desk = open()
    world.fates.push('lost after', 'lost before')
    desk.change('AB')
    await pass(400)
    desk.change('ABC')
    await desk.leave()
    const again = open()
    expect(again.state.value).toBe('ABC')
    await pass(500)
    expect([world.there.state, again.saving.value]).toEqual(['ABC', 'saved'])
  })
})

describe('a refusal', () => {
  it('is told, keeps what was typed, and the next change is tried', async () => {
    const desk = open()
    world.fates.push(new Fault(422, 'date_gone_by', 'Past.', 'valid_until'))
    desk.change('AB')
    expect(await desk.flush()).toBe(false)
    expect([desk.saving.value, desk.fault.value?.path]).toEqual(['refused', 'valid_until'])
    await pass(60_000)
    expect(world.sent).toEqual(['AB'])
    expect(open().state.value).toBe('AB')
    desk.change('ABC')
    expect(await desk.flush()).toBe(true)
    expect([desk.saving.value, desk.fault.value]).toEqual(['saved', null])
  })
})

describe('somebody else', () => {
  async function clashed(): Promise<DraftStore<string>> {
    const desk = open()
    world.other('X')
    desk.change('AB')
    expect(await desk.flush()).toBe(false)
    expect(desk.saving.value).toBe('clash')
    return desk
  }
  it('keeps mine from being saved until I choose; typing goes on', async () => {
    const desk = await clashed()
    desk.change('ABC')
    await pass(60_000)
    expect([world.there.state, desk.state.value]).toEqual(['X', 'ABC'])
    expect(await desk.saveMine()).toBe(true)
    expect([world.there.state, desk.saving.value]).toEqual(['ABC', 'saved'])
  })
  it('gives way: theirs is shown, mine comes back with undo', async () => {
    const desk = await clashed()
    await desk.takeTheirs()
    expect([desk.state.value, desk.saving.value]).toEqual(['X', 'saved'])
    expect(desk.undo()).toBe(true)
    expect(await desk.flush()).toBe(true)
    expect(world.there.state).toBe('AB')
  })
  it('cannot be asked while the line is down: nothing of mine is let go of', async () => {
    const desk = await clashed()
    const read = vi.spyOn(world, 'read').mockRejectedValue(new Fault(0, 'offline', ''))
    const lost = createDraft({ ...world.there, version: 1 }, { ...world, read, kept: keptDraft(7, 'quote-1', 1) }) // prettier-ignore
    await expect(lost.takeTheirs()).rejects.toThrow()
    expect([lost.state.value, open({ version: 1 }).state.value]).toEqual(['AB', 'AB'])
    expect(desk.state.value).toBe('AB')
  })
  it('who closed it meanwhile leaves me what I typed, to copy', async () => {
    const desk = open()
    world.there.open = false
    desk.change('AB')
    expect(await desk.flush()).toBe(false)
    expect(await desk.saveMine()).toBe(false)
    await desk.takeTheirs()
    expect([desk.state.value, desk.orphan.value, desk.open.value]).toEqual(['A', 'AB', false])
  })
  it('who saved the very same is no clash', async () => {
    const desk = open()
    world.other('AB')
    desk.change('AB')
    expect(await desk.flush()).toBe(true)
  })
})

describe('back and forth', () => {
  it('takes back and does again, a step at a time, and saves both', async () => {
    const desk = open()
    desk.change('1', 'quantity')
    desk.change('10', 'quantity')
    desk.change('10 pieces')
    expect([desk.undo(), desk.state.value]).toEqual([true, '10'])
    expect([desk.undo(), desk.state.value, desk.undo()]).toEqual([true, 'A', false])
    expect([desk.redo(), desk.redo(), desk.state.value]).toEqual([true, true, '10 pieces'])
    expect([desk.redo(), desk.canRedo.value]).toEqual([false, false])
    desk.undo()
    desk.change('12')
    expect([desk.redo(), await desk.flush(), world.there.state]).toEqual([false, true, '12'])
  })
  it('is dead once the document is closed', async () => {
    const desk = open()
    desk.change('AB')
    await desk.flush()
    desk.offer({ state: 'AB', version: 3, open: false })
    expect([desk.undo(), desk.change('X'), desk.state.value]).toEqual([false, false, 'AB'])
  })
})

describe('how the server has it', () => {
  it('is not taken over what is typed', async () => {
    const desk = open()
    desk.change('AB')
    expect(desk.offer({ state: 'Z', version: 9, open: true })).toBe(false)
    expect(desk.state.value).toBe('AB')
  })
  it('is taken where nothing is on its way, unless it is older', async () => {
    const desk = open()
    desk.change('AB')
    await desk.flush()
    expect(desk.offer({ state: 'A', version: 1, open: true })).toBe(false)
    expect(desk.offer({ state: 'Z', version: 3, open: true })).toBe(true)
    expect([desk.state.value, desk.saving.value]).toEqual(['Z', 'saved'])
  })
})

describe('the end of a page', () => {
  it('saves what is typed, and tries nothing more where that fails', async () => {
    const desk = open()
    desk.change('AB')
    expect(await desk.leave()).toBe(true)
    expect(world.there.state).toBe('AB')
    world.fates.push('lost before')
    desk.stay()
    desk.change('ABC')
    expect(await desk.leave()).toBe(false)
    await pass(120_000)
    expect(world.sent).toEqual(['AB', 'ABC'])
    expect(open().state.value).toBe('ABC')
  })
  it('of a document that is thrown away keeps nothing and sends nothing', async () => {
    const desk = open()
    world.slowly()
    desk.change('AB')
    await pass(400)
    desk.forget()
    await world.answer()
    await pass(60_000)
    expect([localStorage.length, world.sent.length, desk.change('X')]).toEqual([0, 1, false])
  })
  it('of two tabs without a line are both there: the newest first, then the one it was not made from', async () => {
    const [first, second] = [open(), open()]
    world.fates.push(...Array<'lost before'>(6).fill('lost before'))
    first.change('of the first tab')
    await pass(400)
    second.change('of the second tab')
    await pass(400)
    await first.leave()
    await pass(5)
    await second.leave()
    world.fates.length = 0
    const again = open()
    expect(again.state.value).toBe('of the second tab')
    expect(await again.flush()).toBe(true)
    await again.leave()
    const then = open()
    expect(then.state.value).toBe('of the first tab')
    await then.flush()
    expect([then.saving.value, world.there.state]).toEqual(['clash', 'of the second tab'])
    await then.saveMine()
    expect([world.there.state, localStorage.length]).toEqual(['of the first tab', 0])
  })
  it('of one tab does not take away what another tab keeps', async () => {
    const first = open()
    first.change('first')
    await first.flush()
    const second = open()
    world.fates.push('lost before')
    second.change('second')
    await pass(400)
    first.offer({ state: 'Z', version: 9, open: true })
    world.there.version = 9
    first.change('more')
    await first.flush()
    expect(localStorage.length).toBe(1)
  })
})
