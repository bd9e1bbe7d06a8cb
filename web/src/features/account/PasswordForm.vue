<script setup lang="ts">
/** A new password: the old one first, the new one twice. */
import { useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, take } from '@/api/client'
import { say } from '@/kit/act/notices'
import { useFormAct } from '@/kit/form/useFormAct'
import { t } from '@/words'
import { VISITS } from './queries'

const client = useQueryClient()
const old = ref('')
const fresh = ref('')
const again = ref('')
const tried = ref(false)
const { busy, faultAt, elsewhere, run } = useFormAct(['old', 'new', 'password'])
const differs = computed(() => again.value !== '' && again.value !== fresh.value)

async function change(): Promise<void> {
  tried.value = true
  if (!old.value || !fresh.value || again.value !== fresh.value) return
  await run(async () => {
    await take(api.POST('/api/session/password', { body: { old: old.value, new: fresh.value } }))
    old.value = fresh.value = again.value = ''
    tried.value = false
    say(t('account.changed'))
    await client.invalidateQueries({ queryKey: VISITS })
  })
}
</script>

<template>
  <ElForm class="card secret" label-position="top" @submit.prevent="change">
    <h2>{{ t('account.password') }}</h2>
    <ElFormItem :label="t('account.old')" for="old" :error="faultAt('old', 'password')">
      <ElInput
        id="old"
        v-model="old"
        name="old"
        type="password"
        autocomplete="current-password"
        maxlength="200"
      />
    </ElFormItem>
    <ElFormItem :label="t('account.fresh')" for="new" :error="faultAt('new')">
      <ElInput
        id="new"
        v-model="fresh"
        name="new"
        type="password"
        autocomplete="new-password"
        maxlength="200"
      />
    </ElFormItem>
    <ElFormItem
      :label="t('account.again')"
      for="again"
      :error="tried && differs ? t('account.notSame') : ''"
    >
      <ElInput
        id="again"
        v-model="again"
        name="again"
        type="password"
        autocomplete="new-password"
        maxlength="200"
      />
    </ElFormItem>
    <p class="soft">{{ t('account.hint') }}</p>
    <p v-if="elsewhere" class="fault" role="alert">{{ elsewhere }}</p>
    <ElButton type="primary" native-type="submit" :loading="busy">{{
      t('account.change')
    }}</ElButton>
  </ElForm>
</template>

<style scoped>
.secret {
  display: flex;
  flex-direction: column;
  gap: 10px;
  max-width: 460px;
  padding: 14px 18px 18px;
}
.secret .el-button {
  align-self: flex-start;
}
</style>
