import { afterEach, describe, expect, it } from 'vitest'
import { effectScope } from 'vue'
import { complain, settle, useToldHere } from './notices'

const notes = () => document.querySelectorAll('.fault-note').length
afterEach(settle)

describe('what goes wrong', () => {
  it('is told in the panel that asked, where it covers nothing', () => {
    const scope = effectScope()
    const told = scope.run(useToldHere)
    complain(new Error('The total has changed'))
    expect(told?.value?.words).toBe('The total has changed')
    expect(notes()).toBe(0)
    settle()
    expect(told?.value).toBeNull()
    scope.stop()
  })

  it('is told in the panel opened last, and at the foot once all are closed', () => {
    const under = effectScope()
    const above = effectScope()
    const first = under.run(useToldHere)
    const second = above.run(useToldHere)
    complain(new Error('one'))
    expect([first?.value, second?.value?.words]).toEqual([null, 'one'])
    above.stop()
    complain(new Error('two'))
    expect(first?.value?.words).toBe('two')
    under.stop()
    complain(new Error('three'))
    expect(first?.value?.words).toBe('two')
    expect(notes()).toBe(1)
  })
})
