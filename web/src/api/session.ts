/** Who is signed in, and what they may do. */
import { ref } from 'vue'
import { api, take, type Shapes } from './client'

export const me = ref<Shapes['Me'] | null>(null)

/** Ask who is signed in; null where nobody is. */
export async function loadSession(): Promise<void> {
  me.value = (await take(api.GET('/api/session'))) ?? null
}

export async function signIn(username: string, password: string, stay: boolean): Promise<void> {
  me.value = await take(api.POST('/api/session', { body: { username, password, stay } }))
}

/** Change how one's own screens write numbers and days. */
export async function changeFormat(format: 'house' | 'comma' | 'point' | 'month'): Promise<void> {
  me.value = await take(api.PATCH('/api/session', { body: { format } }))
}

export async function signOut(): Promise<void> {
  await take(api.DELETE('/api/session'))
  me.value = null
}
