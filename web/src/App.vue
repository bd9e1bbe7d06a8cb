<script setup lang="ts">
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import PlaceLine from './shared/PlaceLine.vue'
import { me } from './shared/session'

const route = useRoute()
const signedIn = computed(() => me.value !== null && !route.meta.open)
</script>

<template>
  <a v-if="signedIn" class="skip" href="#main">Skip to the sheet</a>
  <PlaceLine v-if="signedIn" />
  <main id="main" tabindex="-1">
    <RouterView v-slot="{ Component }">
      <component :is="Component" :key="route.path" />
    </RouterView>
  </main>
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
.el-message .undo {
  background: none;
  border: 0;
  color: var(--bar-accent);
  font-weight: 700;
  text-decoration: underline;
  cursor: pointer;
}
</style>
