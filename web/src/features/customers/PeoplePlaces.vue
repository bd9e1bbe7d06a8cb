<script setup lang="ts">
/** Who is there, where goods and invoices go: called, noted, added, changed, let go. */
import { defineAsyncComponent, ref } from 'vue'
import { me } from '@/api/session'
import { say } from '@/kit/act/notices'
import { mailTo } from '@/kit/format/mail'
import { t } from '@/words'
import PersonForm from '@/parts/customer/PersonForm.vue'
import PlaceForm from '@/parts/customer/PlaceForm.vue'
import type { Customer } from './queries'
import { usePeople } from './usePeople'

const ActivityForm = defineAsyncComponent(() => import('@/parts/diary/ActivityForm.vue'))
defineProps<{ customer: Customer }>()
const emit = defineEmits<{ changed: [] }>()
/** What is open: a form for somebody new, or of one person or place. */
const open = ref('')
const { letPersonGo, letPlaceGo } = usePeople(() => {
  open.value = ''
  emit('changed')
})
function toggle(which: string): void {
  open.value = open.value === which ? '' : which
}
function called(name: string): void {
  done()
  say(t('customers.people.called', { name }))
}
function done(): void {
  open.value = ''
  emit('changed')
}
const line = (a: Customer['addresses'][number]) =>
  [a.label, a.street, `${a.postcode} ${a.town}`, a.country].filter(Boolean).join(', ')
</script>

<template>
  <section class="card">
    <header>
      <h2>{{ t('customers.people.title') }}</h2>
      <span v-if="me?.sells" class="chips">
        <ElButton size="small" :aria-expanded="open === 'person'" @click="toggle('person')">{{
          t('customers.people.addPerson')
        }}</ElButton>
        <ElButton size="small" :aria-expanded="open === 'place'" @click="toggle('place')">{{
          t('customers.people.addPlace')
        }}</ElButton>
      </span>
    </header>
    <PersonForm v-if="open === 'person'" :customer="customer.id" @done="done" />
    <PlaceForm
      v-if="open === 'place'"
      :customer="customer.id"
      :country="customer.addresses[0]?.country ?? ''"
      @done="done"
    />
    <p v-if="!customer.contacts.length && !customer.addresses.length" class="soft">
      {{ t('customers.people.none') }}
    </p>
    <ul>
      <li v-for="c in customer.contacts" :key="`c${c.id}`" class="person">
        <span class="who"
          ><b>{{ c.name }}</b
          >{{ c.role ? `, ${c.role}` : '' }}</span
        >
        <a v-if="c.email" :href="mailTo(c.email)">{{ c.email }}</a>
        <a v-if="c.phone" :href="`tel:${c.phone}`">{{ c.phone }}</a>
        <span v-if="me?.sells" class="acts">
          <ElButton
            size="small"
            text
            :aria-label="t('customers.people.noteCallWith', { name: c.name })"
            :aria-expanded="open === `call${c.id}`"
            @click="toggle(`call${c.id}`)"
            >{{ t('customers.people.noteCall') }}</ElButton
          >
          <a
            class="btn quiet small"
            :href="`/api/contacts/${c.id}/card`"
            download
            :aria-label="t('customers.people.cardOf', { name: c.name })"
            >{{ t('customers.people.card') }}</a
          >
          <ElButton
            size="small"
            text
            :aria-label="t('customers.change.of', { name: c.name })"
            :aria-expanded="open === `c${c.id}`"
            @click="toggle(`c${c.id}`)"
            >{{ t('customers.change.act') }}</ElButton
          >
        </span>
        <ActivityForm
          v-if="open === `call${c.id}`"
          only="call"
          :about="{ deal_id: null, customer_id: customer.id }"
          :person="c"
          @added="called(c.name)"
        />
        <PersonForm
          v-if="open === `c${c.id}`"
          :customer="customer.id"
          :person="c"
          @done="done"
          @retire="letPersonGo(c)"
        />
      </li>
      <li v-for="a in customer.addresses" :key="`a${a.id}`">
        <span class="who">{{ line(a) }}</span>
        <span class="soft">{{
          t(a.kind === 'invoice' ? 'customers.people.invoices' : 'customers.people.deliveries')
        }}</span>
        <span v-if="me?.sells" class="acts">
          <ElButton
            size="small"
            text
            :aria-label="t('customers.change.of', { name: a.label || a.street })"
            :aria-expanded="open === `a${a.id}`"
            @click="toggle(`a${a.id}`)"
            >{{ t('customers.change.act') }}</ElButton
          >
        </span>
        <PlaceForm
          v-if="open === `a${a.id}`"
          :customer="customer.id"
          :country="a.country"
          :place="a"
          @done="done"
          @retire="letPlaceGo(a)"
        />
      </li>
    </ul>
  </section>
</template>

<style scoped>
li {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 14px;
  align-items: baseline;
  padding: 4px 0;
  border-bottom: 1px solid var(--rule);
}
li > :deep(form) {
  flex-basis: 100%;
}
.who {
  flex: 1;
  min-width: 180px;
}
.person .who {
  flex-basis: 100%;
}
.acts {
  margin-left: auto;
}
</style>
