<script setup lang="ts">
import { ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { signIn } from '@/shared/session'

const route = useRoute()
const router = useRouter()
const username = ref('')
const password = ref('')
const fault = ref('')
const busy = ref(false)

async function enter(): Promise<void> {
  busy.value = true
  fault.value = ''
  try {
    await signIn(username.value, password.value)
    const wanted = typeof route.query.to === 'string' ? route.query.to : '/today'
    await router.push(wanted.startsWith('/') && !wanted.startsWith('//') ? wanted : '/today')
  } catch (error) {
    fault.value = error instanceof Error ? error.message : String(error)
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <div class="door">
    <svg class="map" viewBox="0 0 640 120" aria-hidden="true">
      <path d="M0 90 H180 L250 40 H640" class="line" />
      <path d="M180 90 c40 0 40 24 80 24 H640" class="side" />
      <circle v-for="x in [60, 120]" :key="x" :cx="x" cy="90" r="9" class="stop" />
      <circle v-for="x in [330, 440, 550]" :key="x" :cx="x" cy="40" r="9" class="stop" />
      <circle cx="180" cy="90" r="15" class="ring" />
    </svg>
    <form class="card" @submit.prevent="enter">
      <h1>Vivid Route</h1>
      <p class="soft">From the first talk to the paid invoice.</p>
      <label class="field"
        ><span>Name</span>
        <input
          v-model="username"
          class="input"
          name="username"
          autocomplete="username"
          autofocus
          required
      /></label>
      <label class="field"
        ><span>Password</span>
        <input
          v-model="password"
          class="input"
          name="password"
          type="password"
          autocomplete="current-password"
          required
      /></label>
      <p v-if="fault" class="fault" role="alert">{{ fault }}</p>
      <button class="btn act" :disabled="busy">Sign in</button>
    </form>
  </div>
</template>

<style scoped>
.door {
  min-height: 92vh;
  display: flex;
  flex-direction: column;
  align-items: center;
  justify-content: center;
  gap: 0;
}
.map {
  width: min(640px, 92vw);
}
.line,
.side {
  fill: none;
  stroke: var(--ink);
  stroke-width: 7;
}
.side {
  stroke: var(--teal);
  opacity: 0.4;
}
.stop {
  fill: var(--ink);
}
.ring {
  fill: var(--sheet);
  stroke: var(--coral);
  stroke-width: 7;
}
form {
  width: min(380px, 92vw);
  display: flex;
  flex-direction: column;
  gap: 12px;
  padding: 22px 26px 26px;
}
</style>
