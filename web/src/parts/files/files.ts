/** Files beside a record: what lies there, added one after the other, marked, taken away. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, take, token, type Shapes } from '@/api/client'
import { refusalOf, unanswered, type Refusal } from '@/api/fault'
import { complain, say } from '@/kit/act/notices'
import { useAct } from '@/kit/act/useAct'
import { t } from '@/words'

export type Kind = 'customer' | 'deal' | 'quote' | 'order' | 'activity'
export type KeptFile = Shapes['KeptFileOut']
/** The server keeps no larger ones. */
export const MOST_BYTES = 15_000_000
const KILO = 1000
const MEGA = 1_000_000

/** A size as one says it. */
export function sizeOf(bytes: number): string {
  if (bytes >= MEGA) return t('files.sizes.mb', { n: (bytes / MEGA).toFixed(1) })
  return t('files.sizes.kb', { n: Math.max(1, Math.round(bytes / KILO)) })
}
/** The files of a drop. */
export function filesIn(data: DataTransfer | null): File[] {
  return [...(data?.files ?? [])]
}
/** The files of a paste. A spreadsheet lays a picture of its cells beside their text: that is text. */
export function pastedIn(data: DataTransfer | null): File[] {
  return data?.types.includes('text/plain') ? [] : filesIn(data)
}

/** Lay a file with a record; what lies there then. */
export async function sendFile(
  kind: Kind,
  record: number,
  file: File,
  line = '',
): Promise<KeptFile[]> {
  const path = `/api/files/${kind}/${record}${line ? `?line=${encodeURIComponent(line)}` : ''}`
  const body = new FormData()
  body.append('file', file)
  const headers = { 'X-CSRFToken': token() }
  const answer = await fetch(path, { method: 'POST', body, headers }).catch(() => {
    throw unanswered()
  })
  if (!answer.ok) {
    throw refusalOf(answer.status, (await answer.json().catch(() => null)) as Refusal | null)
  }
  return (await answer.json()) as KeptFile[]
}

export function useFiles(kind: Kind, record: () => number) {
  const client = useQueryClient()
  const key = computed(() => ['files', kind, record()])
  const { data, error, refetch } = useQuery({
    queryKey: key,
    queryFn: ({ signal }) => {
      const params = { path: { kind, record_id: record() } }
      return take(api.GET('/api/files/{kind}/{record_id}', { params, signal }))
    },
  })
  const adding = ref('')
  const { busy, run } = useAct((fault) => {
    if (fault.status === 409) void refetch()
  })
  /** One after the other; what is refused is told, the others go on. */
  async function add(files: File[], line = ''): Promise<void> {
    for (const file of files) {
      if (file.size > MOST_BYTES) {
        say(t('files.tooLarge', { name: file.name, most: MOST_BYTES / MEGA }))
        continue
      }
      adding.value = file.name
      try {
        client.setQueryData(key.value, await sendFile(kind, record(), file, line))
      } catch (fault) {
        complain(fault, () => void add([file], line))
      }
    }
    adding.value = ''
  }
  const mark = (file: KeptFile, with_paper: boolean) =>
    run(async () => {
      const params = { path: { pk: file.id } }
      const body = { version: file.version, with_paper }
      await take(api.PATCH('/api/kept-files/{pk}', { params, body }))
      await refetch()
    })
  const remove = (file: { id: number; version: number; name: string }, removed = true) =>
    run(async () => {
      const params = { path: { pk: file.id } }
      const body = { version: file.version, removed }
      const now = await take(api.POST('/api/kept-files/{pk}/removed', { params, body }))
      await refetch()
      if (removed) say(t('files.removed', { name: file.name }), () => void remove(now, false))
    })
  return { files: data, error, refetch, adding, busy, add, mark, remove }
}
