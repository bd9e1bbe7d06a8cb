import { VueQueryPlugin } from '@tanstack/vue-query'
import { mount, type VueWrapper } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { defineComponent, h, nextTick, ref } from 'vue'
import { type DeskLine, newLine } from '@/parts/line/line'
import LineGrid from './LineGrid.vue'

/** The grid within a desk that keeps its lines, with steps back. */
const ITEM = {
  id: 1,
  code: 'POS-250',
  name: 'Post',
  group: 'Posts',
  kind: 'goods',
  base_unit: 'H87',
  sales_unit: 'H87',
  units: [
    { code: 'H87', name: 'piece', factor: '1' },
    { code: 'BX', name: 'box', factor: '12' },
    { code: 'MTR', name: 'metre', factor: '2' },
  ],
  minimum_quantity: null,
  pack_multiple: null,
}
const OTHER = { ...ITEM, id: 2, code: 'WIR-16', name: 'Wire' }
const HITS = [OTHER, { ...ITEM, id: 3, code: 'WIR-25', name: 'Thick wire' }]

let wrapper: VueWrapper
let lines = ref<DeskLine[]>([])
let steps: (string | undefined)[] = []
let pasted: [string, number][] = []
let grid: { settle: () => unknown }
let editable = ref(true)

function line(key: string, change: Partial<DeskLine> = {}): DeskLine {
  return { ...newLine(ITEM), key, quantity: '10', ...change }
}
function priced(each: DeskLine) {
  return {
    ...{ id: each.key, price: each.price ?? '8.90', per: '1', unit: each.unit, net: '89.00' },
    ...{ source: null, amount: null, discount: null, counted: true, by_rules: '8.90', split: null },
    ...{ document_discount_share: '0', steps: [], passed_over: [] },
  }
}
beforeEach(async () => {
  vi.useFakeTimers()
  vi.stubGlobal('fetch', (request: Request | string) => {
    const path = typeof request === 'string' ? request : request.url
    const body = path.includes('/api/items') ? HITS : []
    return Promise.resolve(new Response(JSON.stringify(body)))
  })
  lines = ref([line('a'), line('b', { discount_percent: '5' }), line('c')])
  steps = []
  pasted = []
  editable = ref(true)
  const Desk = defineComponent(() => {
    return () =>
      h(LineGrid, {
        ref: (made) => (grid = made as unknown as typeof grid),
        lines: lines.value,
        priced: {
          lines: lines.value.filter((each) => each.item).map(priced),
          totals: {} as never,
          next_breaks: [],
        },
        problems: [],
        units: { H87: 'piece', BX: 'box', MTR: 'metre' },
        lists: {},
        currency: 'EUR',
        digits: 2,
        editable: editable.value,
        margin: false,
        customer: 1,
        promises: new Map(),
        depots: [],
        onChange: (next, step) => {
          lines.value = next
          steps.push(step)
        },
        onPaste: (text, at) => pasted.push([text, at]),
      })
  })
  wrapper = mount(Desk, {
    attachTo: document.body,
    global: { plugins: [VueQueryPlugin], stubs: { RouterLink: true } },
  })
  await nextTick()
})
afterEach(() => wrapper.unmount())

const QUANTITY = 2
const UNIT = 3
const PRICE = 4
const DISCOUNT = 5
const cell = (key: string, col: number) =>
  document.querySelector<HTMLElement>(`[data-row="${key}"] [data-col="${col}"]`)!
const editor = () => document.querySelector<HTMLInputElement>('.editor input, .editor select')
const of = (key: string) => lines.value.find((each) => each.key === key)!
async function settled(): Promise<void> {
  await nextTick()
  await nextTick()
  await nextTick()
}
/** A mouse press and what a browser does with it: the focus moves, and with it a blur. */
async function press(target: Element): Promise<void> {
  const event = new MouseEvent('pointerdown', { bubbles: true, cancelable: true })
  if (target.dispatchEvent(event)) {
    const focusable = target.closest<HTMLElement>('[tabindex], button, input')
    if (focusable) focusable.focus()
    else (document.activeElement as HTMLElement | null)?.blur()
  }
  target.dispatchEvent(new MouseEvent('click', { bubbles: true }))
  await settled()
}
async function key(name: string, more: KeyboardEventInit = {}): Promise<boolean> {
  const target = document.activeElement ?? document.body
  const event = new KeyboardEvent('keydown', {
    key: name,
    bubbles: true,
    cancelable: true,
    ...more,
  })
  const free = target.dispatchEvent(event)
  const field = document.activeElement
  if (free && name.length === 1 && field instanceof HTMLInputElement) {
    const whole = field.selectionStart === 0 && field.selectionEnd === field.value.length
    field.value = whole ? name : field.value + name
    field.setSelectionRange(field.value.length, field.value.length)
    field.dispatchEvent(new Event('input', { bubbles: true }))
  }
  await settled()
  return free
}
async function type(text: string): Promise<void> {
  for (const letter of text) await key(letter)
}
async function go(row: string, col: number): Promise<void> {
  await press(cell(row, col))
}

describe('the cell editor owns its cell', () => {
  it('what is typed goes into its cell, wherever one goes', async () => {
    await go('a', QUANTITY)
    await type('25')
    await press(cell('b', DISCOUNT))
    expect([of('a').quantity, of('b').discount_percent]).toEqual(['25', '5'])
    expect(document.activeElement).toBe(cell('b', DISCOUNT))
  })
  it('a cleared quantity is refused in its cell; another line keeps its discount', async () => {
    await go('a', QUANTITY)
    await key('F2')
    editor()!.value = ''
    editor()!.dispatchEvent(new Event('input'))
    await settled()
    await press(cell('b', DISCOUNT))
    expect([of('a').quantity, of('b').discount_percent]).toEqual(['10', '5'])
    expect(cell('a', QUANTITY).classList).toContain('refused')
  })
  it('a price with its currency is refused in its cell and gives no discount elsewhere', async () => {
    await go('a', PRICE)
    await type('8,90 EUR')
    await press(cell('b', DISCOUNT))
    expect([of('a').price, of('b').discount_amount]).toEqual([null, null])
    expect(cell('a', PRICE).textContent).toContain('8,90 EUR')
    await press(cell('a', PRICE))
    await key('Enter')
    expect(editor()!.value).toBe('8,90 EUR')
    expect(document.querySelector('[role=alert]')?.textContent).toMatch(/A price is a number/)
  })
  it('a quantity that cannot be read leaves nothing of itself', async () => {
    await go('a', QUANTITY)
    await type('1O0')
    await press(cell('b', QUANTITY))
    expect([of('a').quantity, cell('a', QUANTITY).textContent?.trim()]).toEqual(['10', '1O0'])
    expect(grid.settle()).toMatchObject({ key: 'a', text: '1O0' })
    await settled()
    expect(editor()!.value).toBe('1O0')
    await key('Escape')
    expect(grid.settle()).toBeNull()
  })
  it('a sign that could be read two ways is asked about', async () => {
    await go('a', QUANTITY)
    await type('1,200')
    await key('Enter')
    expect(document.querySelector('[role=alert]')?.textContent).toMatch(/could be 1\s200 or 1\.2/)
    expect(of('a').quantity).toBe('10')
  })
  it('shows a quantity as it is typed, in one step, and Esc brings back what was there', async () => {
    await go('a', QUANTITY)
    await type('123')
    expect(of('a').quantity).toBe('123')
    expect(new Set(steps).size).toBe(1)
    await key('Escape')
    expect([of('a').quantity, document.activeElement]).toEqual(['10', cell('a', QUANTITY)])
  })
  it('a letter in the unit means the unit that begins with it, and no other is taken', async () => {
    await go('a', UNIT)
    await key('m')
    await key('Enter')
    expect(of('a').unit).toBe('MTR')
    await go('b', UNIT)
    await key('x')
    await key('Enter')
    expect(of('b').unit).toBe('H87')
  })
  it('follows its line when lines move under it', async () => {
    await go('a', PRICE)
    await type('9')
    lines.value = [line('z'), ...lines.value]
    await settled()
    await key('Enter')
    expect([of('a').price, of('z').price]).toEqual(['9', null])
  })
})

describe('a press', () => {
  it('on a net, a number or a fold is on no cell: nothing opens, nothing changes', async () => {
    await go('a', QUANTITY)
    const net = document.querySelector('[data-row="b"] .net')!
    net.dispatchEvent(new MouseEvent('dblclick', { bubbles: true }))
    await press(net)
    expect(editor()).toBeNull()
    await press(cell('c', QUANTITY))
    expect(lines.value.map((each) => each.discount_percent)).toEqual([null, '5', null])
    expect(document.querySelectorAll('[data-col][tabindex="0"]').length).toBe(1)
  })
  it('twice opens the cell', async () => {
    cell('b', DISCOUNT).dispatchEvent(new MouseEvent('dblclick', { bubbles: true }))
    await go('b', DISCOUNT)
    await key('F2')
    expect(editor()!.value).toBe('5')
  })
})

describe('a key', () => {
  it('in the fold below a line stays there', async () => {
    await go('a', PRICE)
    await type('9')
    await key('Enter')
    await go('a', PRICE)
    await key('ArrowDown', { altKey: true })
    await settled()
    const reason = document.querySelector<HTMLInputElement>('[name=price_reason]')!
    reason.focus()
    expect(await key('b')).toBe(true)
    expect([editor(), reason.value]).toEqual([null, 'b'])
    const button = [...document.querySelectorAll<HTMLElement>('.trail button')].at(-1)!
    button.focus()
    expect(await key('Enter')).toBe(true)
    expect(await key(' ')).toBe(true)
  })
  it('moves as in a spreadsheet, and stops at the ends', async () => {
    await go('a', QUANTITY)
    await key('ArrowUp')
    expect(document.activeElement).toBe(cell('a', QUANTITY))
    await key('ArrowDown')
    await key('ArrowRight')
    expect(document.activeElement).toBe(cell('b', UNIT))
    await key('End')
    expect(document.activeElement).toBe(cell('b', DISCOUNT))
    await key('Tab')
    expect(document.activeElement).toBe(cell('c', QUANTITY))
    await key('End', { ctrlKey: true })
    expect(document.activeElement).toBe(cell('+', 0))
  })
  it('takes a line away, and the focus stays where it was', async () => {
    await go('b', QUANTITY)
    await key('Delete', { ctrlKey: true })
    expect(lines.value.map((each) => each.key)).toEqual(['a', 'c'])
    expect(document.activeElement).toBe(cell('c', QUANTITY))
  })
  it('on an issued quote changes nothing', async () => {
    editable.value = false
    await settled()
    await go('a', QUANTITY)
    await type('5')
    await key('Delete', { ctrlKey: true })
    await key('a', { altKey: true, code: 'KeyA' })
    expect([steps.length, editor()]).toEqual([0, null])
  })
  it('with Alt makes kinds and words, and others are left to the page', async () => {
    await go('b', QUANTITY)
    await key('å', { altKey: true, code: 'KeyA' })
    expect([of('b').kind, of('b').alternative_to]).toEqual(['alternative', 'a'])
    await key('h', { altKey: true, code: 'KeyH' })
    await settled()
    await type('Posts')
    await key('Enter')
    expect(lines.value.map((each) => [each.kind, each.text])[1]).toEqual(['heading', 'Posts'])
    expect(await key('l', { altKey: true, code: 'KeyL' })).toBe(true)
  })
})

describe('a new line', () => {
  async function look(letters: string): Promise<void> {
    await press(cell('+', 0))
    await type(letters)
    await vi.advanceTimersByTimeAsync(100)
    await settled()
  }
  it('comes from letters and Enter; its quantity is asked for next', async () => {
    await look('wir')
    expect(document.querySelectorAll('[role=option]').length).toBe(2)
    expect(editor()!.getAttribute('aria-activedescendant')).toBe('item-hit-0')
    await key('ArrowDown')
    await key('Enter')
    await settled()
    expect(lines.value.at(-1)?.item?.code).toBe('WIR-25')
    await type('7')
    await key('Enter')
    expect(lines.value.at(-1)?.quantity).toBe('7')
  })
  it('takes marked ones together; marks do not outlive a click elsewhere', async () => {
    await look('wir')
    await key('Enter', { shiftKey: true })
    await press(cell('a', QUANTITY))
    await look('wir')
    await key('ArrowDown')
    await key('Enter')
    await settled()
    expect(lines.value.slice(3).map((each) => each.item?.code)).toEqual(['WIR-25'])
  })
  it('can be pasted where the row invites it', async () => {
    await press(cell('+', 0))
    const data = { getData: () => 'POS-250\t20\nWIR-16\t3' }
    const event = Object.assign(new Event('paste', { bubbles: true, cancelable: true }), {
      clipboardData: data,
    })
    editor()!.dispatchEvent(event)
    await settled()
    expect([pasted, editor()]).toEqual([[['POS-250\t20\nWIR-16\t3', 3]], null])
  })
})
