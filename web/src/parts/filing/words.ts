/** The words of what comes from a file, by what it is. */
import type { Key } from '@/words'

interface Words {
  how: Key
  looked: Key
  keep: Key
  state: (state: string) => Key
}
export const WORDS: Record<'customers' | 'leads', Words> = {
  customers: {
    how: 'customers.file.how',
    looked: 'customers.file.looked',
    keep: 'customers.file.keep',
    state: (state) => `customers.file.states.${state as 'new'}`,
  },
  leads: {
    how: 'leads.file.how',
    looked: 'leads.file.looked',
    keep: 'leads.file.keep',
    state: (state) => `leads.file.states.${state as 'new'}`,
  },
}
