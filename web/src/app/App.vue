<script setup lang="ts">
/** The frame: the line of places, what is new or stale, the page. It never leaves the page blank. */
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { me } from '@/api/session'
import { t } from '@/words'
import { focusOnArrival } from './arrival'
import { broken, drawAgain, tries } from './broken'
import { partMissing } from './build'
import { startAgain, started, startFault } from './session'
import BrokenPage from './shell/BrokenPage.vue'
import NewsLine from './shell/NewsLine.vue'
import PlaceLine from './shell/PlaceLine.vue'

const route = useRoute()
const router = useRouter()
const signedIn = computed(() => me.value !== null && !route.meta.open)
const main = ref<HTMLElement>()
focusOnArrival(router, () => main.value)
router.onError((error: Error) => {
  if (/import|fetch|preload|chunk/i.test(error.message)) partMissing.value = true
  else broken.value = error
})
</script>

<template>
  <ElConfigProvider :button="{ autoInsertSpace: false }" :message="{ max: 3 }">
    <a v-if="signedIn" class="skip" href="#main">{{ t('app.skip') }}</a>
    <PlaceLine v-if="signedIn" />
    <NewsLine />
    <main id="main" ref="main" tabindex="-1">
      <BrokenPage
        v-if="!started"
        :title="startFault ? t('app.broken.start') : ''"
        :hint="t('app.broken.startHint')"
        @again="startAgain"
      />
      <BrokenPage
        v-else-if="broken || partMissing"
        :title="t('app.broken.page')"
        :hint="broken?.message ?? t('app.broken.code')"
        reload
        @again="drawAgain"
      />
      <RouterView v-else v-slot="{ Component }">
        <component :is="Component" :key="`${route.path} ${tries}`" />
      </RouterView>
    </main>
  </ElConfigProvider>
</template>

<style>
.skip {
  position: absolute;
  left: -9999px;
}
.skip:focus {
  left: 12px;
  top: 8px;
  z-index: 50;
  background: var(--sheet);
  padding: 6px 12px;
}
main:focus {
  outline: none;
}
</style>
