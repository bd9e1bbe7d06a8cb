<script setup lang="ts">
/** The sheet of keys, over any page: those that hold here. */
import { keyPlaces } from '@/kit/keys/useKeys'
import { t } from '@/words'

const open = defineModel<boolean>({ required: true })
</script>

<template>
  <ElDialog v-model="open" :title="t('app.keys.title')" width="min(940px, 94vw)" append-to-body>
    <div class="groups">
      <section v-for="place in keyPlaces" :key="place.title">
        <h3>{{ place.title }}</h3>
        <dl>
          <template v-for="row in place.keys" :key="row.keys">
            <dt>
              <kbd>{{ row.keys }}</kbd>
            </dt>
            <dd>{{ row.does }}</dd>
          </template>
        </dl>
      </section>
    </div>
  </ElDialog>
</template>

<style scoped>
.groups {
  columns: 2;
  column-gap: 36px;
}
section {
  break-inside: avoid;
  margin-bottom: 12px;
}
h3 {
  font-size: 13px;
  margin: 0 0 4px;
}
dl {
  display: grid;
  grid-template-columns: 148px 1fr;
  gap: 5px 12px;
  margin: 0;
}
dd {
  margin: 0;
}
kbd {
  font: inherit;
  font-weight: 600;
}
@media (max-width: 700px) {
  .groups {
    columns: 1;
  }
}
</style>
