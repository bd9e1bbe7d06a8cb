<script setup lang="ts">
/** Who works on a deal beside its owner: they read it, note what was done and add files. */
import { useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, take } from '@/api/client'
import { me } from '@/api/session'
import { say } from '@/kit/act/notices'
import { useAct } from '@/kit/act/useAct'
import ChoiceField from '@/kit/form/ChoiceField.vue'
import { t } from '@/words'
import { dealKey, type Deal } from './queries'

type Member = Deal['team'][number]
const props = defineProps<{ deal: Deal }>()
const client = useQueryClient()
const person = ref<number | null>(null)
const part = ref('')
const choices = computed(() => {
  const there = new Set([props.deal.owner_id, ...props.deal.team.map((each) => each.person_id)])
  return (me.value?.colleagues ?? [])
    .filter(({ id }) => !there.has(id))
    .map(({ id, name }) => ({ value: id, label: name }))
})
const { busy, run } = useAct()
const put = (now: Omit<Member, 'name'>[], version = props.deal.version) =>
  run(async () => {
    const rows = now.map(({ person_id, part: does }) => ({ person_id, part: does }))
    const params = { path: { deal_id: props.deal.id } }
    const body = { version, rows }
    const told = await take(api.PUT('/api/deals/{deal_id}/team', { params, body }))
    client.setQueryData(dealKey(props.deal.id), told)
    return told
  })
async function add(): Promise<void> {
  if (person.value === null) return
  if (!(await put([...props.deal.team, { person_id: person.value, part: part.value }]))) return
  person.value = null
  part.value = ''
}
async function without(row: Member): Promise<void> {
  const before = props.deal.team
  const told = await put(before.filter((each) => each !== row))
  if (told) say(t('deals.team.left', { name: row.name }), () => void put(before, told.version))
}
</script>

<template>
  <section v-if="deal.yours || deal.team.length" class="team" :aria-label="t('deals.team.title')">
    <header>
      <h3>{{ t('deals.team.title') }}</h3>
      <span v-if="deal.yours" class="soft">{{ t('deals.team.hint') }}</span>
    </header>
    <ul v-if="deal.team.length">
      <li v-for="row in deal.team" :key="row.person_id">
        <b>{{ row.name }}</b>
        <span class="soft">{{ row.part }}</span>
        <ElButton
          v-if="deal.yours"
          text
          size="small"
          :disabled="busy"
          :aria-label="t('deals.team.remove', { name: row.name })"
          @click="without(row)"
          >{{ t('deals.team.removeAct') }}</ElButton
        >
      </li>
    </ul>
    <form v-if="deal.yours && choices.length" class="add" @submit.prevent="add">
      <ChoiceField
        class="who"
        :model-value="person"
        :choices="choices"
        :label="t('deals.team.who')"
        :placeholder="t('deals.team.who')"
        bare
        small
        @update:model-value="(now) => (person = now ?? null)"
      />
      <ElInput
        v-model="part"
        class="part"
        size="small"
        maxlength="60"
        :aria-label="t('deals.team.part')"
        :placeholder="t('deals.team.part')"
      />
      <ElButton native-type="submit" size="small" :disabled="busy || person === null">{{
        t('deals.team.add')
      }}</ElButton>
    </form>
  </section>
</template>

<style scoped>
.team {
  margin-top: 14px;
}
header,
.add,
li {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 10px;
  align-items: center;
}
ul {
  margin: 4px 0;
  padding: 0;
  list-style: none;
}
.who {
  width: 180px;
  margin: 0;
}
.part {
  width: 220px;
  margin: 0;
}
</style>
