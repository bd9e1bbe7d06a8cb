<script setup lang="ts">
/** Mailboxes that are read: one's own and the shared ones; one is added, opened with another password, read no longer. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'
import { api, take, type Shapes } from '@/api/client'
import { say } from '@/kit/act/notices'
import { useAct } from '@/kit/act/useAct'
import ChoiceField from '@/kit/form/ChoiceField.vue'
import { moment } from '@/kit/format/format'
import LoadState from '@/kit/show/LoadState.vue'
import SureButton from '@/kit/step/SureButton.vue'
import { t } from '@/words'

type Mailbox = Shapes['MailboxOut']
const client = useQueryClient()
const POLL_MS = 15_000
const { data, error, refetch } = useQuery({
  queryKey: ['mailboxes'],
  queryFn: ({ signal }) => take(api.GET('/api/mailboxes', { signal })),
  refetchInterval: POLL_MS,
})
const adding = ref(false)
const server = ref('')
const name = ref('')
const password = ref('')
const shared = ref(false)
/** The mailbox that gets another password. */
const opening = ref(0)
const fresh = ref('')
const { busy, run } = useAct(() => void refetch())
const again = () => client.invalidateQueries({ queryKey: ['mailboxes'] })

function open(): void {
  adding.value = !adding.value
  server.value = data.value?.servers[0] ?? ''
}
const add = () =>
  run(async () => {
    const body = {
      ...{ server: server.value, name: name.value.trim() },
      ...{ password: password.value, shared: shared.value },
    }
    const made = await take(api.POST('/api/mailboxes', { body }))
    name.value = password.value = ''
    adding.value = shared.value = false
    say(t('account.boxes.added', { name: made.name }))
    await again()
  })
const giveWord = (box: Mailbox) =>
  run(async () => {
    const params = { path: { mailbox_id: box.id } }
    const body = { version: box.version, password: fresh.value }
    await take(api.POST('/api/mailboxes/{mailbox_id}/password', { params, body }))
    fresh.value = ''
    opening.value = 0
    await again()
  })
const retire = (box: Mailbox) =>
  run(async () => {
    const params = { path: { mailbox_id: box.id } }
    const body = { version: box.version }
    await take(api.POST('/api/mailboxes/{mailbox_id}/retire', { params, body }))
    await again()
  })
</script>

<template>
  <section class="card" :aria-label="t('account.boxes.title')">
    <header>
      <h2>{{ t('account.boxes.title') }}</h2>
      <span class="soft">{{ t('account.boxes.hint') }}</span>
    </header>
    <LoadState v-if="!data" :error="error" :rows="2" @again="refetch()" />
    <template v-else>
      <p v-if="!data.rows.length" class="soft">{{ t('account.boxes.none') }}</p>
      <ul>
        <li v-for="box in data.rows" :key="box.id">
          <b>{{ box.name }}</b>
          <span class="soft">{{
            t(
              box.server
                ? box.shared
                  ? 'account.boxes.shared'
                  : 'account.boxes.own'
                : 'account.boxes.house',
            )
          }}</span>
          <span v-if="box.fault" class="fault" role="status">{{ box.fault }}</span>
          <span v-else-if="box.looked_at" class="soft">{{
            t('account.boxes.looked', { when: moment(box.looked_at) })
          }}</span>
          <template v-if="box.mine">
            <ElButton
              size="small"
              :aria-expanded="opening === box.id"
              @click="opening = opening === box.id ? 0 : box.id"
              >{{ t('account.boxes.otherWord') }}</ElButton
            >
            <SureButton
              :label="t('account.boxes.retire')"
              :question="t('account.boxes.sure')"
              :act="t('account.boxes.retireAct')"
              :disabled="busy"
              @go="retire(box)"
            />
          </template>
          <form v-if="opening === box.id" @submit.prevent="giveWord(box)">
            <ElInput
              v-model="fresh"
              type="password"
              size="small"
              autocomplete="off"
              maxlength="200"
              :aria-label="t('account.boxes.password')"
            />
            <ElButton size="small" native-type="submit" :loading="busy" :disabled="!fresh">{{
              t('account.boxes.open')
            }}</ElButton>
          </form>
        </li>
      </ul>
      <ElButton v-if="data.servers.length" :aria-expanded="adding" @click="open">{{
        t('account.boxes.add')
      }}</ElButton>
      <ElForm v-if="adding" class="fields" label-position="top" @submit.prevent="add">
        <ChoiceField
          v-model="server"
          :choices="data.servers.map((value) => ({ value, label: value }))"
          :label="t('account.boxes.server')"
        />
        <ElFormItem :label="t('account.boxes.name')">
          <ElInput v-model="name" name="mailbox" maxlength="254" autocomplete="off" />
        </ElFormItem>
        <ElFormItem :label="t('account.boxes.password')">
          <ElInput v-model="password" type="password" maxlength="200" autocomplete="off" />
        </ElFormItem>
        <ElCheckbox v-if="data.may_share" v-model="shared">{{
          t('account.boxes.share')
        }}</ElCheckbox>
        <ElButton
          type="primary"
          native-type="submit"
          :loading="busy"
          :disabled="!name.trim() || !password"
          >{{ t('account.boxes.read') }}</ElButton
        >
      </ElForm>
    </template>
  </section>
</template>

<style scoped>
.card {
  margin-top: 14px;
}
ul {
  margin: 0 0 10px;
  padding: 0;
  list-style: none;
}
li {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
  align-items: center;
  min-height: 36px;
}
form {
  display: flex;
  gap: 8px;
}
.fields {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(200px, 1fr));
  gap: 8px 16px;
  align-items: end;
  margin-top: 10px;
}
.fields .el-button {
  justify-self: start;
}
</style>
