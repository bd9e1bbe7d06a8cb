import { mount } from '@vue/test-utils'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import SolvePanel from './SolvePanel.vue'

let asked: { line: string; answer: (amount: string) => void }[]
beforeEach(() => {
  vi.useFakeTimers()
  asked = []
  vi.stubGlobal('fetch', async (request: Request) => {
    const { line } = (await request.json()) as { line: string }
    return new Promise<Response>((go) => {
      const facts = { percent: '1', reached: '99', exact: true, blocked: [] }
      const answer = (amount: string) => go(new Response(JSON.stringify({ amount, ...facts })))
      asked.push({ line, answer })
    })
  })
})
const pass = () => vi.advanceTimersByTimeAsync(5)

describe('solving for a line', () => {
  it('never offers a late answer for one line on another', async () => {
    const line = (key: string) => ({ key, kind: 'normal', text: key, item: { code: key } })
    const props = { revision: 1, currency: 'EUR', margin: true, lines: [line('A'), line('B')] }
    const panel = mount(SolvePanel, { props: props as never, attachTo: document.body })
    const choose = async (name: string, value: string) => {
      const field = panel
        .findAllComponents({ name: 'ChoiceField' })
        .find((each) => each.props('name') === name)
      field?.vm.$emit('update:modelValue', value)
      await pass()
    }
    await choose('target', 'line_net')
    await choose('line', 'A')
    await panel.get('input[name=value]').setValue('99')
    await panel.get('form').trigger('submit')
    await pass()
    await choose('line', 'B')
    asked[0]?.answer('12.00')
    await pass()
    expect(asked.map((each) => each.line)).toEqual(['A'])
    expect(panel.find('.answer').exists()).toBe(false)
    await panel.get('form').trigger('submit')
    await pass()
    asked[1]?.answer('7.00')
    await pass()
    expect(panel.get('.answer').text()).toContain('7.00')
    await panel.get('.answer + button').trigger('click')
    expect(panel.emitted('solved')).toEqual([['7.00', null, 'B']])
    panel.unmount()
  })
})
