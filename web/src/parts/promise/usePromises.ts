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

export function usePromises(revision: Ref<number>, lines: Ref<DeskLine[]>, place: Ref<Place>) {
  const body = refDebounced(
    computed(() => asked(lines.value, place.value)),
    PAUSE_MS,
  )
  const { data, isPlaceholderData } = useQuery({
    queryKey: computed(() => ['promises', revision.value, body.value]),
    queryFn: ({ signal }) =>
      take(
        api.POST('/api/revisions/{revision_id}/promises', {
          params: { path: { revision_id: revision.value } },
          body: body.value,
          signal,
        }),
      ),
    enabled: computed(() => body.value.lines.length > 0),
    placeholderData: (before) => before,
    staleTime: 30_000,
    refetchInterval: 60_000,
  })
  const found = computed(() => (body.value.lines.length ? data.value : undefined))
  const byKey = computed(() => new Map(found.value?.lines.map((line) => [line.key, line])))
  return { found, byKey, stale: isPlaceholderData }
}
