/** Letting people and places of a customer go, with a way back. */
import { api, take, type Shapes } from '@/api/client'
import { say } from '@/kit/act/notices'
import { useAct } from '@/kit/act/useAct'
import { t } from '@/words'
import type { Customer } from './queries'

type Person = Shapes['ContactOut']
type Place = Customer['addresses'][number]

export function usePeople(changed: () => void) {
  const { busy, run } = useAct()

  const setPerson = (id: number, version: number, retired: boolean) =>
    take(
      api.PATCH('/api/contacts/{contact_id}', {
        params: { path: { contact_id: id } },
        body: { version, retired },
      }),
    )
  const setPlace = (id: number, version: number, retired: boolean) =>
    take(
      api.PATCH('/api/addresses/{address_id}', {
        params: { path: { address_id: id } },
        body: { version, retired },
      }),
    )

  const letPersonGo = (person: Person) =>
    run(async () => {
      const gone = await setPerson(person.id, person.version, true)
      changed()
      say(t('customers.people.gone', { name: person.name }), () =>
        run(async () => {
          await setPerson(gone.id, gone.version, false)
          changed()
        }),
      )
    })
  const letPlaceGo = (place: Place) =>
    run(async () => {
      const gone = await setPlace(place.id, place.version, true)
      changed()
      say(t('customers.people.gone', { name: place.label || place.street }), () =>
        run(async () => {
          await setPlace(gone.id, gone.version, false)
          changed()
        }),
      )
    })
  return { busy, letPersonGo, letPlaceGo }
}
