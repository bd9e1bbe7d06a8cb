<script setup lang="ts">
/** The one line of places at the top: stops on a line, a ring where we are. */
import { onKeyStroke } from '@vueuse/core'
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import GoTo from './GoTo.vue'
import KeySheet from './KeySheet.vue'
import { me, signOut } from './session'
import { isDark, toggleTheme } from './theme'

const route = useRoute()
const router = useRouter()
const open = ref<'' | 'new' | 'person'>('')
const keys = ref(false)
const goTo = ref<InstanceType<typeof GoTo>>()

const places = computed(() =>
  [
    { name: 'Today', to: '/today', at: ['/today'], sells: true },
    { name: 'Deals', to: '/deals', at: ['/deals', '/timetable'], sells: true },
    { name: 'Customers', to: '/customers', at: ['/customers'], sells: false },
    { name: 'Quotes', to: '/quotes', at: ['/quotes'], sells: true },
    { name: 'Orders', to: '/orders', at: ['/orders'], sells: false },
    { name: 'Forecast', to: '/forecast', at: ['/forecast'], sells: true },
    { name: 'Prices', to: '/prices', at: ['/prices'], sells: true },
  ].filter((place) => !place.sells || me.value?.sells),
)
const here = computed(
  () => places.value.find((p) => p.at.some((start) => route.path.startsWith(start)))?.name,
)

onKeyStroke('k', (event) => {
  if (event.ctrlKey || event.metaKey) {
    event.preventDefault()
    goTo.value?.focus()
  }
})
onKeyStroke('Escape', () => (open.value = ''))

async function leave(): Promise<void> {
  await signOut()
  await router.push('/sign-in')
}
</script>

<template>
  <header class="places">
    <div class="upper">
      <RouterLink class="mark" to="/today">Vivid Route</RouterLink>
      <nav aria-label="Places">
        <RouterLink
          v-for="place in places"
          :key="place.name"
          :to="place.to"
          class="place"
          :class="{ here: place.name === here }"
          :aria-current="place.name === here ? 'page' : undefined"
        >
          {{ place.name }}<span class="dot" aria-hidden="true" />
        </RouterLink>
      </nav>
      <GoTo ref="goTo" />
      <div v-if="me?.sells" class="menu">
        <button
          class="btn new"
          aria-haspopup="true"
          :aria-expanded="open === 'new'"
          @click="open = open === 'new' ? '' : 'new'"
        >
          New
        </button>
        <ul v-if="open === 'new'" class="drop" @click="open = ''">
          <li><RouterLink to="/deals/new">Deal</RouterLink></li>
          <li><RouterLink to="/customers?for=quote">Quote for a customer</RouterLink></li>
        </ul>
      </div>
      <div class="menu">
        <button
          class="btn quiet person"
          aria-haspopup="true"
          :aria-expanded="open === 'person'"
          @click="open = open === 'person' ? '' : 'person'"
        >
          {{ me?.name }}
        </button>
        <ul v-if="open === 'person'" class="drop right" @click="open = ''">
          <li v-if="me?.role === 'admin'">
            <RouterLink to="/papers">Quote papers</RouterLink>
          </li>
          <li><button @click="keys = true">Keys</button></li>
          <li>
            <button @click="toggleTheme">{{ isDark ? 'Light paper' : 'Dark paper' }}</button>
          </li>
          <li><button @click="leave">Sign out</button></li>
        </ul>
      </div>
    </div>
    <div class="rail" aria-hidden="true" />
    <KeySheet v-model="keys" />
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
.new {
  background: var(--ink);
  color: var(--sheet);
}
.new:hover {
  background: var(--ink);
  filter: brightness(1.2);
}
.person {
  color: var(--ink);
  padding: 0 4px;
}
.menu {
  position: relative;
}
.drop {
  position: absolute;
  right: 0;
  top: 34px;
  z-index: 30;
  background: var(--sheet);
  border: 1px solid var(--ink);
  border-radius: var(--radius);
  padding: 4px;
  min-width: 180px;
}
.drop a,
.drop button {
  display: block;
  width: 100%;
  text-align: left;
  border: 0;
  background: none;
  padding: 6px 10px;
  border-radius: 4px;
  text-decoration: none;
  cursor: pointer;
}
.drop a:hover,
.drop button:hover {
  background: var(--amber-soft);
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
