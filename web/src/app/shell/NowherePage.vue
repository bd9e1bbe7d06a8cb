<script setup lang="ts">
import EmptyState from '@/kit/show/EmptyState.vue'
import { t } from '@/words'
</script>

<template>
  <div class="page">
    <div class="card">
      <EmptyState :title="t('app.nowhere.title')">
        <RouterLink to="/">{{ t('app.nowhere.back') }}</RouterLink>
      </EmptyState>
    </div>
  </div>
</template>
