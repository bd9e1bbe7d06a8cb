import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import { mount, type VueWrapper } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { computed, defineComponent, h, ref } from 'vue'
import type { Shapes } from '@/api/client'
import { Fault } from '@/api/fault'
import { me } from '@/api/session'
import DealForm from './DealForm.vue'
import type { Deal, DealChange } from './queries'

let server: Deal
let sent: { version: number; change: DealChange }[]
let gates: ((fault?: Fault) => void)[]
let shown = ref<Deal>()
let wrapper: VueWrapper

vi.mock('./queries', async (original) => ({
  ...(await original<object>()),
  useStages: () => ({
    data: ref([
      { code: 'scoped', name: 'Scoped' },
      { code: 'quoted', name: 'Quoted' },
    ]),
  }),
  readDeal: () => Promise.resolve({ ...server }),
  changeDeal: async (_: number, version: number, change: DealChange) => {
    sent.push({ version, change })
    const fault = await new Promise<Fault | undefined>((go) => gates.push(go))
    if (fault) throw fault
    if (version !== server.version) throw new Fault(409, 'changed_meanwhile', '')
    server = { ...server, ...(change as Partial<Deal>), version: version + 1 }
    return server
  },
}))
beforeEach(() => {
  vi.useFakeTimers()
  sent = []
  gates = []
  me.value = { id: 4, base_currency: 'EUR', base_digits: 2 } as Shapes['Me']
  server = {
    ...{ id: 9, version: 3, stage: 'scoped', stage_name: 'Scoped', decision_on: '2099-12-01' },
    ...{ estimate: '1000.00', amount: '1000.00', probability: '30', own_probability: null },
    ...{ probability_reason: '', confidence: 'likely', contact: null, contacts: [], quoted: false },
    ...{ weighted: '300.00', overdue: false, outcome: 'open', lacks: [], next_step: null },
    ...{ learnt: null, needs: '', rivals: '', reason_id: null, reason_note: '', lost_to: '' },
  } as unknown as Deal
  shown = ref({ ...server })
  const Page = defineComponent(() => () => h(DealForm, { deal: shown.value! }))
  const client = new QueryClient()
  wrapper = mount(Page, {
    attachTo: document.body,
    global: { plugins: [[VueQueryPlugin, { queryClient: client }]] },
  })
  // As the page shows it: what the cache has is what is seen.
  client.getQueryCache().subscribe(() => {
    const known = client.getQueryData<Deal>(['deal', 9])
    if (known) shown.value = known
  })
})
afterEach(() => wrapper.unmount())
const wait = () => vi.advanceTimersByTimeAsync(1500)
async function answer(fault?: Fault): Promise<void> {
  await wait()
  gates.shift()?.(fault)
  await wait()
}
const choice = (name: string) =>
  computed(() =>
    wrapper.findAllComponents({ name: 'ChoiceField' }).find((f) => f.props('name') === name)!,
  )
const pick = (name: string, value: string) =>
  choice(name).value.vm.$emit('update:modelValue', value)
const field = (name: string) => wrapper.get<HTMLInputElement>(`input[name="${name}"]`)
async function type(name: string, text: string): Promise<void> {
  await field(name).trigger('focusin')
  await field(name).setValue(text)
  await field(name).trigger('focusout')
}

describe('the fields of a deal', () => {
  it('two of them changed quickly go one after the other and never clash with oneself', async () => {
    pick('stage', 'quoted')
    await wait()
    pick('confidence', 'sure')
    await answer()
    await answer()
    expect(sent.map((each) => each.version)).toEqual([3, 4])
    expect(server).toMatchObject({ stage: 'quoted', confidence: 'sure', version: 5 })
    expect(wrapper.find('[role=alert]').exists()).toBe(false)
  })
  it('keep what is being typed while another one saves itself and the page is read afresh', async () => {
    field('reason').element.focus()
    field('reason').element.value = 'They asked for'
    await field('reason').trigger('input')
    pick('confidence', 'sure')
    await answer()
    shown.value = { ...server, title: 'A note was added' } as Deal
    await wait()
    expect(field('reason').element.value).toBe('They asked for')
  })
  it('say at their place what the server refuses, and keep it to be mended', async () => {
    await type('probability', '80')
    await answer(new Fault(422, 'reason_needed', '', 'probability_reason'))
    expect(wrapper.get('.because').text()).toMatch(/reason|why/i)
    expect(field('probability').element.value).toBe('80 %')
    await type('reason', 'They told me')
    await answer()
    expect(sent.at(-1)!.change).toEqual({ probability: '80', probability_reason: 'They told me' })
    expect(server.version).toBe(4)
  })
  it('ask where somebody else changed the deal, and take theirs or keep mine', async () => {
    pick('stage', 'quoted')
    await wait()
    server = { ...server, confidence: 'sure', version: 8 } as Deal
    await answer()
    expect(wrapper.get('[role=alert]').text()).toContain('changed')
    await wrapper.findAll('[role=alert] button')[1]!.trigger('click')
    await answer()
    expect(server).toMatchObject({ stage: 'quoted', version: 9 })
  })
  it('are taken back by Ctrl Z, on the server as well', async () => {
    pick('stage', 'quoted')
    await answer()
    const keys = { key: 'z', code: 'KeyZ', ctrlKey: true, bubbles: true }
    document.body.dispatchEvent(new KeyboardEvent('keydown', keys))
    await answer()
    expect(server).toMatchObject({ stage: 'scoped', version: 5 })
  })
})
