<script setup lang="ts">
import { onMounted, ref, useTemplateRef } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, take } from '@/api/client'
import { asFault } from '@/api/fault'
import { signIn } from '@/api/session'
import { t } from '@/words'

const route = useRoute()
const router = useRouter()
const username = ref('')
const password = ref('')
const stay = ref(false)
const demo = ref(false)
const fault = ref('')
const busy = ref(false)
const first = useTemplateRef('first')
onMounted(async () => {
  first.value?.focus()
  demo.value = (await take(api.GET('/api/house')).catch(() => null))?.demo ?? false
})

async function enter(): Promise<void> {
  if (busy.value) return
  busy.value = true
  fault.value = ''
  try {
    await signIn(username.value, password.value, stay.value)
    const wanted = typeof route.query.to === 'string' ? route.query.to : '/'
    const ours = wanted.startsWith('/') && !wanted.startsWith('//') && wanted !== '/'
    await router.push(ours ? wanted : '/today')
  } catch (error) {
    fault.value = asFault(error).message
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
    <ElForm class="card" label-position="top" @submit.prevent="enter">
      <h1>{{ t('app.title') }}</h1>
      <p class="soft">{{ t('signin.hint') }}</p>
      <ElFormItem :label="t('signin.name')" for="username">
        <ElInput
          id="username"
          ref="first"
          v-model="username"
          name="username"
          autocomplete="username"
          required
        />
      </ElFormItem>
      <ElFormItem :label="t('signin.password')" for="password" :error="fault">
        <ElInput
          id="password"
          v-model="password"
          name="password"
          type="password"
          autocomplete="current-password"
          required
        />
      </ElFormItem>
      <ElCheckbox v-model="stay" name="stay">{{ t('signin.stay') }}</ElCheckbox>
      <ElButton type="primary" native-type="submit" :loading="busy">{{ t('signin.act') }}</ElButton>
      <p v-if="demo" class="soft demo">{{ t('signin.demo') }}</p>
    </ElForm>
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
.el-button {
  align-self: flex-start;
}
</style>
