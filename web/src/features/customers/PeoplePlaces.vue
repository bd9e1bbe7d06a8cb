<script setup lang="ts">
/** Who is there, where goods and invoices go, and a way to add both. */
import { ref } from 'vue'
import { mailTo } from '@/kit/format/mail'
import { me } from '@/api/session'
import { t } from '@/words'
import PersonForm from './PersonForm.vue'
import PlaceForm from './PlaceForm.vue'
import type { Customer } from './queries'

defineProps<{ customer: Customer }>()
const emit = defineEmits<{ changed: [] }>()
const adding = ref<'' | 'person' | 'place'>('')
function toggle(which: 'person' | 'place'): void {
  adding.value = adding.value === which ? '' : which
}
function added(): void {
  adding.value = ''
  emit('changed')
}
</script>

<template>
  <section class="card">
    <header>
      <h2>{{ t('customers.people.title') }}</h2>
      <span v-if="me?.sells" class="chips">
        <ElButton size="small" :aria-expanded="adding === 'person'" @click="toggle('person')">{{
          t('customers.people.addPerson')
        }}</ElButton>
        <ElButton size="small" :aria-expanded="adding === 'place'" @click="toggle('place')">{{
          t('customers.people.addPlace')
        }}</ElButton>
      </span>
    </header>
    <PersonForm v-if="adding === 'person'" :customer="customer.id" @added="added" />
    <PlaceForm
      v-if="adding === 'place'"
      :customer="customer.id"
      :country="customer.addresses[0]?.country ?? ''"
      @added="added"
    />
    <p v-if="!customer.contacts.length && !customer.addresses.length" class="soft">
      {{ t('customers.people.none') }}
    </p>
    <table class="list">
      <tbody>
        <tr v-for="c in customer.contacts" :key="`c${c.id}`">
          <td>
            <b>{{ c.name }}</b>{{ c.role ? `, ${c.role}` : '' }}
          </td>
          <td>
            <a v-if="c.email" :href="mailTo(c.email)">{{ c.email }}</a>
          </td>
          <td class="num">
            <a v-if="c.phone" :href="`tel:${c.phone}`">{{ c.phone }}</a>
          </td>
        </tr>
        <tr v-for="a in customer.addresses" :key="`a${a.id}`">
          <td colspan="2">
            {{
              [a.label, a.street, `${a.postcode} ${a.town}`, a.country].filter(Boolean).join(', ')
            }}
          </td>
          <td class="soft">
            {{
              t(a.kind === 'invoice' ? 'customers.people.invoices' : 'customers.people.deliveries')
            }}
          </td>
        </tr>
      </tbody>
    </table>
  </section>
</template>
