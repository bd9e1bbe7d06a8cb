<script setup lang="ts">
/** One's own account: the password, and where one is signed in. */
import { me } from '@/api/session'
import { t } from '@/words'
import FeedCard from './FeedCard.vue'
import MailboxesCard from './MailboxesCard.vue'
import MailWords from './MailWords.vue'
import PasswordForm from './PasswordForm.vue'
import VisitList from './VisitList.vue'
</script>

<template>
  <div class="page narrow">
    <h1>{{ t('account.title') }}</h1>
    <p class="soft">{{ me?.name }}</p>
    <PasswordForm />
    <FeedCard v-if="me?.sells" />
    <MailboxesCard v-if="me?.sells" />
    <MailWords v-if="me?.sells" />
    <VisitList />
  </div>
</template>

<style scoped>
h1 + p {
  margin-bottom: 10px;
}
</style>
