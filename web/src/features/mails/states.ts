/** How a mail stands, in words. */
import type { Shapes } from '@/api/client'
import { maybe, t } from '@/words'

/** Of one that came whether it waits, of one of ours how far it is and from where it went. */
export function stateOf({
  way,
  state,
  elsewhere,
}: Pick<Shapes['MailRow'], 'way' | 'state' | 'elsewhere'>): string {
  if (way === 'in')
    return state === 'waits'
      ? t('mail.waits')
      : state === 'automatic'
        ? t('mail.automatic')
        : t('mail.came')
  const said = maybe(`states.mail.${state}`) ?? state
  return elsewhere ? `${said}, ${t('mail.elsewhere')}` : said
}
