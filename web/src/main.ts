import '@fontsource-variable/hanken-grotesk'
import './theme/tokens.css'
import './theme/base.css'
import './theme/element.css'
import { VueQueryPlugin } from '@tanstack/vue-query'
import { createApp } from 'vue'
import App from './App.vue'
import { whenSignedOut } from './api/client'
import { router } from './router'
import { loadSession, me } from './shared/session'
import './shared/theme'

async function start(): Promise<void> {
  await loadSession()
  whenSignedOut(() => {
    me.value = null
    if (router.currentRoute.value.name !== 'sign-in') {
      void router.push({
        name: 'sign-in',
        query: { to: router.currentRoute.value.fullPath },
      })
    }
  })
  createApp(App)
    .use(router)
    .use(VueQueryPlugin, {
      queryClientConfig: {
        defaultOptions: { queries: { retry: 1, staleTime: 5_000, refetchOnWindowFocus: true } },
      },
    })
    .mount('#app')
}

void start()
