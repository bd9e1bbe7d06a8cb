/** The tab's title: the record or the place, then the application. */
import { watchEffect } from 'vue'
import { t } from '@/words'

export function titled(name: string): void {
  document.title = name ? `${name} · ${t('app.title')}` : t('app.title')
}

/** While a page is open, the tab carries its record's name, once it is known. */
export function useTitle(name: () => string | undefined): void {
  watchEffect(() => {
    const known = name()
    if (known) titled(known)
  })
}
