/** What can be promised of a quote's lines as they stand; asked in pauses of typing. */
import { useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, type Ref } from 'vue'
import { api, take, type Shapes } from '@/api/client'
import { wordsOnly, type DeskLine } from '@/parts/line/line'

const PAUSE_MS = 250
export type LinePromise = Shapes['LinePromise']
export type Proposal = Shapes['ProposalOut']

interface Place {
  requested_on: string | null
  delivery_address_id: number | null
}

/** The question that lines ask: those of goods whose quantity is there. */
export function asked(lines: DeskLine[], place: Place): Shapes['PromisesIn'] {
  return {
    lines: lines
      .filter((line) => !wordsOnly(line) && line.item && Number(line.quantity) > 0)
      .map((line) => ({
        key: line.key,
        item_id: line.item?.id ?? 0,
        quantity: line.quantity,
        unit: line.unit,
        kind: line.kind as 'normal' | 'alternative' | 'optional',
        depot_id: line.depot_id,
        wanted_on: line.wanted_on,
      })),
    requested_on: place.requested_on,
    delivery_address_id: place.delivery_address_id,
  }
}

type Body = Shapes['PromisesIn']

export function usePromises(revision: Ref<number>, lines: Ref<DeskLine[]>, place: Ref<Place>) {
  return useAnswers(
    computed(() => `quote-${revision.value}`),
    computed(() => asked(lines.value, place.value)),
    (body, signal) => {
      const path = { revision_id: revision.value }
      const given = { params: { path }, body, signal }
      return take(api.POST('/api/revisions/{revision_id}/promises', given))
    },
  )
}

/** The same for goods that are on no quote yet. */
export function useCustomerPromises(customer: number, lines: Ref<Body['lines']>) {
  return useAnswers(
    computed(() => `customer-${customer}`),
    computed(() => ({ lines: lines.value, requested_on: null, delivery_address_id: null })),
    (body, signal) => {
      const given = { params: { path: { customer_id: customer } }, body, signal }
      return take(api.POST('/api/customers/{customer_id}/promises', given))
    },
  )
}

function useAnswers(
  whose: Ref<string>,
  now: Ref<Body>,
  ask: (body: Body, signal: AbortSignal) => Promise<Shapes['PromisesOut']>,
) {
  const body = refDebounced(now, PAUSE_MS)
  const { data, error, isPlaceholderData, failureCount } = useQuery({
    queryKey: computed(() => ['promises', whose.value, body.value]),
    queryFn: ({ signal }) => ask(body.value, signal),
    enabled: computed(() => body.value.lines.length > 0),
    placeholderData: (before) => before,
    staleTime: 30_000,
    refetchInterval: 60_000,
  })
  const last = computed(() => (body.value.lines.length ? data.value : undefined))
  const byKey = computed(() => new Map(last.value?.lines.map((line) => [line.key, line])))
  /** The answer to what was asked last; while that comes, the one before, unless it does not come at once. */
  const found = computed(() =>
    isPlaceholderData.value && failureCount.value > 0 ? undefined : last.value,
  )
  /** Nothing is known yet of goods that are there: being asked, or not answered. */
  const unknown = computed(() => {
    if (!now.value.lines.length || found.value) return ''
    return error.value ? 'failed' : 'asking'
  })
  return { found, byKey, unknown, stale: isPlaceholderData }
}
