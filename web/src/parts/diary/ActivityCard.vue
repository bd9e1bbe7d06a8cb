<script setup lang="ts">
/** What was done and what is to do: a line to write on, then the newest first. */
import { ref } from 'vue'
import { api, take, type Shapes } from '@/api/client'
import EmptyState from '@/kit/show/EmptyState.vue'
import { addDays, day, todayIso, moment } from '@/kit/format/format'
import { complain, say } from '@/kit/act/notices'

const props = defineProps<{
  activities: Shapes['ActivityOut'][]
  dealId?: number
  customerId?: number
}>()
const emit = defineEmits<{ changed: [] }>()
const KINDS = { note: 'Note', call: 'Call', visit: 'Visit', follow_up: 'Follow-up' } as const
type Kind = keyof typeof KINDS
const kind = ref<Kind>('note')
const text = ref('')
const due = ref(addDays(todayIso(), 7))
const busy = ref(false)

async function add(): Promise<void> {
  busy.value = true
  try {
    await take(
      api.POST('/api/activities', {
        body: {
          kind: kind.value,
          text: text.value,
          deal_id: props.dealId ?? null,
          customer_id: props.customerId ?? null,
          due_on: kind.value === 'follow_up' ? due.value : null,
        },
      }),
    )
    text.value = ''
    emit('changed')
  } catch (fault) {
    complain(fault)
  } finally {
    busy.value = false
  }
}

async function finish(row: Shapes['ActivityOut'], done: boolean): Promise<void> {
  try {
    const saved = await take(
      api.PATCH('/api/activities/{activity_id}', {
        params: { path: { activity_id: row.id } },
        body: { version: row.version, done },
      }),
    )
    emit('changed')
    if (done) say('Done.', () => void finish(saved, false))
  } catch (fault) {
    complain(fault)
    emit('changed')
  }
}
</script>

<template>
  <section class="card">
    <header>
      <h2>Activities</h2>
      <span class="soft">newest first</span>
    </header>
    <form @submit.prevent="add">
      <div class="chips" role="radiogroup" aria-label="Kind">
        <button
          v-for="(name, key) in KINDS"
          :key="key"
          type="button"
          class="btn small"
          role="radio"
          :aria-checked="kind === key"
          @click="kind = key"
        >
          {{ name }}
        </button>
        <label v-if="kind === 'follow_up'" class="due"
          ><span class="soft">on</span> <input v-model="due" class="input" type="date" required
        /></label>
      </div>
      <div class="write">
        <input
          v-model="text"
          class="input"
          maxlength="1000"
          required
          :aria-label="KINDS[kind]"
          :placeholder="kind === 'follow_up' ? 'What is to do' : 'What was said'"
        />
        <button class="btn" :disabled="busy">Add</button>
      </div>
    </form>
    <EmptyState v-if="!activities.length" title="Nothing noted yet">
      Calls, visits, notes and follow-ups of this deal stand here.
    </EmptyState>
    <ol>
      <li v-for="row in activities" :key="row.id">
        <b>{{ KINDS[row.kind as Kind] }}</b>
        <span>{{ row.text }}</span>
        <small v-if="row.kind === 'follow_up'" :class="row.done_at ? 'soft' : 'open'">
          {{ row.done_at ? `done ${day(row.done_at)}` : `due ${day(row.due_on)}` }}
        </small>
        <small v-else class="soft">{{ moment(row.created_at) }}, {{ row.who }}</small>
        <button
          v-if="row.kind === 'follow_up' && !row.done_at"
          class="btn small"
          :aria-label="`Done: ${row.text}`"
          @click="finish(row, true)"
        >
          Done
        </button>
      </li>
    </ol>
  </section>
</template>

<style scoped>
form {
  display: flex;
  flex-direction: column;
  gap: 8px;
  margin-bottom: 8px;
}
.write,
.due {
  display: flex;
  gap: 8px;
  align-items: center;
}
.due .input {
  width: auto;
  height: 26px;
}
li {
  display: grid;
  grid-template-columns: 72px 1fr auto auto;
  gap: 10px;
  align-items: baseline;
  padding: 6px 0;
  border-bottom: 1px solid var(--rule);
}
small {
  font-size: 12px;
  white-space: nowrap;
}
.open {
  color: var(--coral);
  font-weight: 600;
}
</style>
