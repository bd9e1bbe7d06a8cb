<script setup lang="ts">
/** Whose records: one person's, one team's where there are several, or everybody's; for those who lead. */
import { computed } from 'vue'
import { me } from '@/api/session'
import ChoiceField from '@/kit/form/ChoiceField.vue'
import { t } from '@/words'

const owner = defineModel<string>({ required: true })
/** Given where a list can be narrowed to a team. */
const team = defineModel<string>('team')
const TEAM = 'team '
const teams = computed(() => {
  const known = team.value === undefined ? [] : (me.value?.teams ?? [])
  return known.length > 1 || team.value ? known : []
})
const choices = computed(() => [
  { value: '', label: t(teams.value.length ? 'list.everybody' : 'list.team') },
  ...teams.value.map(({ id, name }) => ({ value: `${TEAM}${id}`, label: name })),
  ...(me.value?.people ?? []).map((person) => ({ value: String(person.id), label: person.name })),
])
const chosen = computed({
  get: () => owner.value || (team.value ? `${TEAM}${team.value}` : ''),
  set: (now) => {
    const ofTeam = now.startsWith(TEAM)
    if (owner.value !== (ofTeam ? '' : now)) owner.value = ofTeam ? '' : now
    const wanted = ofTeam ? now.slice(TEAM.length) : ''
    if (team.value !== undefined && team.value !== wanted) team.value = wanted
  },
})
</script>

<template>
  <ChoiceField
    v-if="me?.leads"
    class="rep"
    :model-value="chosen"
    :choices="choices"
    :label="t('list.rep')"
    bare
    small
    @update:model-value="(now) => (chosen = now ?? '')"
  />
</template>

<style scoped>
.rep {
  width: 160px;
}
</style>
