import '@fontsource-variable/hanken-grotesk'
import 'element-plus/es/components/message/style/css'
import 'element-plus/es/components/notification/style/css'
import '@/kit/theme/tokens.css'
import '@/kit/theme/base.css'
import '@/kit/theme/print.css'
import '@/kit/theme/element.css'
import '@/kit/theme/theme'
import { VueQueryPlugin } from '@tanstack/vue-query'
import { createApp } from 'vue'
import { touch } from '@/api/client'
import { fact } from '@/kit/format/format'
import { i18n } from '@/words'
import { writeFactsBy } from '@/words/refusals'
import App from './App.vue'
import { watchBuild } from './build'
import { noteBroken } from './broken'
import { makeQueryClient } from './queryClient'
import { router } from './router'
import { followSession } from './session'

const queryClient = makeQueryClient()
watchBuild()
for (const sign of ['pointerdown', 'keydown']) addEventListener(sign, touch, { passive: true })
writeFactsBy(fact)
followSession(queryClient, router)
const app = createApp(App)
app.config.errorHandler = noteBroken
app.use(i18n).use(VueQueryPlugin, { queryClient }).use(router).mount('#app')
