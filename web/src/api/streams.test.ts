import { describe, expect, it, vi } from 'vitest'
import { Fault } from './fault'
import { work } from './streams'

const bytes = new TextEncoder()
/** An answer whose body comes in these pieces, then ends or breaks. */
function answering(pieces: Uint8Array[], breaks = false): void {
  const body = new ReadableStream<Uint8Array>({
    pull(controller) {
      const next = pieces.shift()
      if (next) controller.enqueue(next)
      else if (breaks) controller.error(new TypeError('network error'))
      else controller.close()
    },
  })
  vi.stubGlobal('fetch', () => Promise.resolve(new Response(body)))
}
async function faultOf(asked: Promise<unknown>): Promise<Fault> {
  return asked.then(
    () => Promise.reject(new Error('it was answered')),
    (error: unknown) => error as Fault,
  )
}

describe('long work', () => {
  it('tells how far it is and gives the result, however the bytes are split', async () => {
    const whole = bytes.encode('{"done":1}\n{"done":2}\n{"result":{"made":"Käfer"}}\n')
    answering([...whole].map((byte) => Uint8Array.of(byte)))
    const seen: number[] = []
    expect(await work('/x', null, (done) => seen.push(done))).toEqual({ made: 'Käfer' })
    expect(seen).toEqual([1, 2])
  })
  it('reads a last line that has no end', async () => {
    answering([bytes.encode('{"result":7}')])
    expect(await work('/x', null)).toBe(7)
  })
  it('is cut where the answer breaks off, and where it ends without a result', async () => {
    answering([bytes.encode('{"done":1}\n')], true)
    expect((await faultOf(work('/x', null))).code).toBe('cut')
    answering([bytes.encode('{"done":1}\n')])
    expect((await faultOf(work('/x', null))).code).toBe('cut')
  })
  it('passes the fault on that came of it', async () => {
    answering([
      bytes.encode('{"fault":{"code":"no_heading","message":"No head.","path":"file"}}\n'),
    ])
    const fault = await faultOf(work('/x', null))
    expect([fault.status, fault.code, fault.path]).toEqual([422, 'no_heading', 'file'])
  })
  it('is offline where nothing answers', async () => {
    const fault = await faultOf(work('/x', null))
    expect([fault.status, fault.code, fault.passing]).toEqual([0, 'offline', true])
  })
})
