/** A mail that is being written: how it begins, what is typed, why it cannot be sent yet, its sending. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, shallowRef } from 'vue'
import { api, take } from '@/api/client'
import type { Fault } from '@/api/fault'
import { me } from '@/api/session'
import { say } from '@/kit/act/notices'
import { useAct } from '@/kit/act/useAct'
import { useKeptForm } from '@/kit/draft/useKeptForm'
import { t } from '@/words'
import { blank, openIn, peopleIn, type MailFrom, type MailTo, type Typed } from './mails'

export interface MailAbout {
  kind: MailFrom
  record: number
  /** In the words of a reminder. */
  reminds?: boolean
  /** The mail that came and is answered. */
  answers?: number
}
/** Somebody who is none of the contacts: whose address is typed; who wrote. */
export const ANOTHER = -1
const NO_CONTACT = 0

/** @param sent what happens once it is in the outbox */
export function useMailDraft(props: MailAbout, sent: () => void) {
  const client = useQueryClient()
  const name = `mail-${props.kind}-${props.record}${props.reminds ? '-reminder' : ''}${props.answers ? `-answer-${props.answers}` : ''}`
  const { form, clear } = useKeptForm<Typed>(me.value?.id ?? 0, name, 1, blank)
  const contactAsked = computed(() => (form.value.contact === ANOTHER ? null : form.value.contact))
  const { data, error, refetch } = useQuery({
    queryKey: computed(() => [
      'mail-draft',
      props.kind,
      props.record,
      contactAsked.value,
      props.reminds,
      props.answers,
    ]),
    queryFn: ({ signal }) => {
      const { kind, record, answers } = props
      const words = props.reminds ? ('reminder' as const) : undefined
      const query = { kind, record, contact: contactAsked.value || undefined, words, answers }
      return take(api.GET('/api/mail-draft', { params: { query }, signal }))
    },
    placeholderData: (before) => before,
  })
  const people = computed(() => [
    ...(data.value?.to ?? []).map((each) => ({
      value: each.contact_id ?? NO_CONTACT,
      label: `${each.name} <${each.address}>`,
      detail: each.role,
    })),
    { value: ANOTHER, label: t('mail.another') },
  ])
  const contact = computed({
    get: () => form.value.contact ?? data.value?.chosen ?? ANOTHER,
    set: (now) => (form.value.contact = now),
  })
  const subject = computed({
    get: () => form.value.subject ?? data.value?.subject ?? '',
    set: (now) => (form.value.subject = now),
  })
  const body = computed({
    get: () => form.value.body ?? data.value?.body ?? '',
    set: (now) => (form.value.body = now),
  })
  const papers = computed({
    get: () =>
      form.value.papers ??
      (data.value?.papers ?? []).filter(({ usual }) => usual).map(({ key }) => key),
    set: (now) => (form.value.papers = now),
  })
  const followOn = computed({
    get: () => form.value.followOn ?? data.value?.follow_up_on ?? null,
    set: (now) => (form.value.followOn = now),
  })
  const follow = computed({
    get: () => form.value.follow ?? !data.value?.planned_on,
    set: (now) => (form.value.follow = now),
  })
  const missing = computed(() => openIn(`${subject.value}\n${body.value}`))
  const looking = ref(false)
  const fault = shallowRef<Fault | null>(null)
  const wrong = ref('')
  const FIELDS = ['to', 'copies', 'subject', 'body', 'papers']
  const fieldOf = (path: string) => FIELDS.find((each) => path.startsWith(each)) ?? ''
  const { busy, run } = useAct((refused) => {
    fault.value = refused
    return fieldOf(refused.path) !== ''
  })
  const faultAt = (path: string) =>
    fault.value && fieldOf(fault.value.path) === path ? fault.value.message : ''
  function recipients(): MailTo[] {
    if (contact.value === ANOTHER) return peopleIn(form.value.address).people
    const found = data.value?.to.find((each) => (each.contact_id ?? NO_CONTACT) === contact.value)
    return found ? [{ name: found.name, address: found.address }] : []
  }
  /** Why it cannot be sent yet; nothing where it can. */
  function hindrance(): string {
    for (const text of [contact.value === ANOTHER ? form.value.address : '', form.value.copies]) {
      const bad = peopleIn(text).wrong
      if (bad) return t('mail.noAddress', { text: bad })
    }
    if (!recipients().length) return t('mail.toNobody')
    return missing.value.length ? t('mail.stillOpen', { fields: named(missing.value) }) : ''
  }
  const named = (fields: string[]) =>
    fields.map((each) => t(`mail.fields.${each as 'contact'}`)).join(', ')
  const send = () =>
    run(async () => {
      fault.value = null
      wrong.value = hindrance()
      if (wrong.value) return
      const asked = data.value?.follow_up_on && follow.value && followOn.value
      await take(
        api.POST('/api/mails', {
          body: {
            kind: props.kind,
            record: props.record,
            to: recipients(),
            copies: peopleIn(form.value.copies).people,
            copy_to_self: form.value.self,
            contact_id: contact.value > NO_CONTACT ? contact.value : null,
            answers: props.answers ?? null,
            subject: subject.value,
            body: body.value,
            papers: papers.value,
            follow_up: asked
              ? { text: data.value?.follow_up ?? '', due_on: asked, owner_id: form.value.followBy }
              : null,
          },
        }),
      )
      clear()
      void client.invalidateQueries({ queryKey: ['mails'] })
      if (asked || props.answers) void client.invalidateQueries({ queryKey: ['today'] })
      say(t('mail.written'))
      sent()
    })

  return {
    ...{ form, data, error, refetch, people, contact, subject, body, papers, follow, followOn },
    ...{ missing, looking, wrong, busy, faultAt, named, send },
  }
}
