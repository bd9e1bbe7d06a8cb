/** Who comes for a record's mails finds them with what waits opened; who comes for one finds that one open. */
import { computed, nextTick, watch, type Ref } from 'vue'
import { useRoute } from 'vue-router'
import { wantedOf } from './mails'

export function useWantedMail() {
  const route = useRoute()
  const wanted = computed(() => wantedOf(route.hash))
  /** Lead there once the mails are there, and again where the address asks for another one. */
  function leadIn(card: Ref<HTMLElement | null>, there: () => boolean): void {
    watch(
      () => there() && wanted.value,
      (asked) => {
        if (!asked || !(asked.all || asked.key)) return
        void nextTick(() => {
          const one = asked.key
            ? card.value?.querySelector<HTMLElement>(`#mail-${asked.key}`)
            : null
          ;(one ?? card.value)?.scrollIntoView({ block: 'start' })
          one?.querySelector('summary')?.focus({ preventScroll: true })
        })
      },
      { immediate: true },
    )
  }
  return { wanted, leadIn }
}
