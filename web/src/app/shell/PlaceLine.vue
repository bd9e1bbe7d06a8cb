<script setup lang="ts">
/** The one line of places at the top: stops on a line, a ring where we are. */
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { changeFormat, me, signOut } from '@/api/session'
import { complain } from '@/kit/act/notices'
import { useAct } from '@/kit/act/useAct'
import { FORMATS, formatName, sample, type FormatName } from '@/kit/format/person'
import { useKeys } from '@/kit/keys/useKeys'
import Menu, { type MenuRow } from '@/kit/menu/Menu.vue'
import { isDark, toggleTheme } from '@/kit/theme/theme'
import { t } from '@/words'
import GoTo from './GoTo.vue'
import KeySheet from './KeySheet.vue'
import { PLACES } from './places'

const route = useRoute()
const router = useRouter()
const sheet = ref(false)
const { run } = useAct()
const goTo = ref<InstanceType<typeof GoTo>>()

const places = computed(() => PLACES.filter((place) => !place.sells || me.value?.sells))
const here = computed(
  () => places.value.find((p) => p.at.some((start) => route.path.startsWith(start)))?.to,
)
const initials = computed(() =>
  (me.value?.name ?? '')
    .split(' ')
    .map((word) => word[0])
    .join(''),
)
const news = computed<MenuRow[]>(() => [
  { label: t('app.menu.newLead'), to: '/leads/new' },
  { label: t('app.menu.newDeal'), to: '/deals/new' },
  { label: t('app.menu.newQuote'), to: '/customers?for=quote' },
])
/** How numbers and days are written: each way by an example, the present one marked. */
const formats = computed<MenuRow[]>(() =>
  (Object.keys(FORMATS) as FormatName[]).map((name, n) => ({
    label: `${name === formatName.value ? '✓ ' : '\u2003'}${sample(name)}`,
    act: () => void run(() => changeFormat(name)),
    divided: n === 0 && me.value?.keeps === true,
  })),
)
const mine = computed<MenuRow[]>(() => [
  ...(me.value?.keeps
    ? [
        { label: t('app.menu.papers'), to: '/papers' },
        { label: t('deals.pipeline.title'), to: '/pipeline' },
      ]
    : []),
  ...formats.value,
  { label: t('app.menu.account'), to: '/account', divided: true },
  { label: t('app.menu.keys'), act: () => (sheet.value = true) },
  { label: t(isDark.value ? 'app.menu.light' : 'app.menu.dark'), act: toggleTheme },
  { label: t('app.menu.signOut'), act: () => void leave(), divided: true },
])

useKeys(() => ({
  title: t('app.keys.everywhere'),
  keys: [
    { keys: 'Ctrl K', does: t('app.keys.go'), act: () => goTo.value?.focus(), whileTyping: true },
    { keys: '?', does: t('app.keys.sheet'), act: () => (sheet.value = !sheet.value) },
    {
      keys: 'Ctrl /',
      does: t('app.keys.sheetTyping'),
      act: () => (sheet.value = !sheet.value),
      whileTyping: true,
    },
    { keys: 'Esc', does: t('app.keys.esc') },
  ],
}))

async function leave(): Promise<void> {
  try {
    await signOut()
    await router.push('/sign-in')
  } catch (fault) {
    complain(fault, () => void leave())
  }
}
</script>

<template>
  <header class="places">
    <div class="upper">
      <RouterLink class="mark" to="/">{{ t('app.title') }}</RouterLink>
      <nav :aria-label="t('app.places.label')">
        <RouterLink
          v-for="place in places"
          :key="place.to"
          :to="place.to"
          class="place"
          :class="{ here: place.to === here }"
          :aria-current="place.to === here ? 'page' : undefined"
        >
          {{ t(place.name) }}<span class="dot" aria-hidden="true" />
        </RouterLink>
      </nav>
      <GoTo ref="goTo" />
      <Menu v-if="me?.sells" :rows="news" :label="t('app.menu.new')" class="new" />
      <Menu :rows="mine" :label="me?.name ?? ''" :short="initials" text />
    </div>
    <div class="rail" aria-hidden="true" />
    <KeySheet v-model="sheet" />
  </header>
</template>

<style scoped>
.places {
  position: relative;
  background: var(--sheet);
  padding: 0 var(--gutter);
  height: 58px;
}
.upper {
  display: flex;
  align-items: center;
  gap: 14px;
  height: 44px;
}
.mark {
  font-weight: 800;
  font-size: 16px;
  text-decoration: none;
  letter-spacing: -0.01em;
  white-space: nowrap;
}
nav {
  display: flex;
  gap: 8px;
  flex: 1;
  min-width: 0;
  padding-left: 18px;
}
.place {
  position: relative;
  text-decoration: none;
  color: var(--ink-2);
  padding: 4px 12px;
}
.place:hover {
  color: var(--ink);
}
.place.here {
  color: var(--ink);
  font-weight: 700;
}
.dot {
  position: absolute;
  left: 50%;
  top: 30px;
  width: 9px;
  height: 9px;
  margin-left: -4.5px;
  border-radius: 50%;
  background: var(--ink);
  z-index: 2;
}
.here .dot {
  width: 21px;
  height: 21px;
  top: 24px;
  margin-left: -10.5px;
  background: var(--sheet);
  border: 4px solid var(--coral);
}
.rail {
  position: absolute;
  left: var(--gutter);
  right: var(--gutter);
  top: 42px;
  height: 4px;
  border-radius: 2px;
  background: var(--ink);
}
.new :deep(.el-button) {
  background: var(--ink);
  color: var(--sheet);
}
.new :deep(.el-button:hover) {
  filter: brightness(1.2);
}
@media (max-width: 1180px) {
  nav {
    gap: 0;
    padding-left: 4px;
  }
  .place {
    padding: 4px 8px;
  }
}
@media (max-width: 980px) {
  .places {
    height: auto;
    padding-bottom: 14px;
  }
  .upper {
    flex-wrap: wrap;
    height: auto;
    padding-top: 8px;
    gap: 8px;
  }
  nav {
    order: 5;
    flex-basis: 100%;
    padding: 0;
    gap: 0;
    justify-content: space-between;
    height: 40px;
  }
  .place {
    padding: 4px 2px;
    font-size: 13px;
  }
  .rail {
    top: auto;
    bottom: 14px;
  }
}
</style>
