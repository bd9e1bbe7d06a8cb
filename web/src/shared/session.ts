/** Who is signed in, and what they may do. */
import { computed, ref } from 'vue'
import { Fault, api, take, type Shapes } from '@/api/client'

export const me = ref<Shapes['Me'] | null>(null)
export const mayLead = computed(() => me.value?.leads ?? false)

/** Ask who is signed in; null where nobody is. */
export async function loadSession(): Promise<void> {
  try {
    me.value = await take(api.GET('/api/session'))
  } catch (fault) {
    if (!(fault instanceof Fault) || fault.status !== 401) throw fault
    me.value = null
  }
}

export async function signIn(username: string, password: string): Promise<void> {
  me.value = await take(api.POST('/api/session', { body: { username, password } }))
}

export async function signOut(): Promise<void> {
  await take(api.DELETE('/api/session'))
  me.value = null
}
