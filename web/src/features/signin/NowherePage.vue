<script setup lang="ts">
import EmptyState from '@/shared/EmptyState.vue'
</script>

<template>
  <div class="page">
    <div class="card">
      <EmptyState title="There is no stop at this address">
        <RouterLink to="/today">Back to Today</RouterLink>
      </EmptyState>
    </div>
  </div>
</template>
