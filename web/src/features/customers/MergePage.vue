<script setup lang="ts">
/** Two records of one customer side by side: which value of each field stays; what moves; one act, a day to take it back. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, reactive } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, take, type Shapes } from '@/api/client'
import { say } from '@/kit/act/notices'
import { useFormAct } from '@/kit/form/useFormAct'
import { figure } from '@/kit/format/format'
import LoadState from '@/kit/show/LoadState.vue'
import { maybe, t, tn } from '@/words'

type Fields = Shapes['CustomerFields']
const route = useRoute()
const router = useRouter()
const client = useQueryClient()
const id = Number(route.params.id)
const other = Number(route.query.other)
const { data, error, refetch } = useQuery({
  queryKey: ['customer', id, 'merge', other],
  queryFn: () =>
    take(
      api.GET('/api/customers/{customer_id}/merge', {
        params: { path: { customer_id: id }, query: { other } },
      }),
    ),
})
/** Each row: its name in the act, how a record shows it, and whether only a lead may take it. */
const ROWS: [string, (row: Fields) => string, boolean][] = [
  ['name', (row) => row.name, false],
  ['kind', (row) => row.kind, false],
  ['tax_number', (row) => row.tax_number, false],
  ['language', (row) => maybe(`customers.change.languages.${row.language}`) ?? row.language, false],
  ['tier', (row) => row.tier, true],
  ['price_list_id', (row) => row.price_list, true],
  ['credit_limit', (row) => (row.credit_limit ? figure(row.credit_limit) : t('customers.notSet')), true],
  ['terms', (row) => row.terms_words, true],
  ['owner_id', (row) => row.owner, true],
  ['tax_category_id', (row) => row.tax_category_id ?? '', true],
  ['partial_deliveries', (row) => t(row.partial_deliveries ? 'customers.merge.inParts' : 'customers.merge.whole'), false],
  ['priority', (row) => t(row.priority ? 'customers.merge.first' : 'customers.merge.inTurn'), true],
] // prettier-ignore
const taken = reactive<Record<string, boolean>>({})
const rows = computed(() => {
  const now = data.value
  if (!now) return []
  return ROWS.map(([name, show, leads]) => ({
    name,
    kept: show(now.kept),
    gone: show(now.gone),
    differs: show(now.kept) !== show(now.gone),
    may: !leads || now.kept.may_change_terms,
  }))
})
const moves = computed(() => Object.entries(data.value?.moves ?? {}))
const { busy, elsewhere, run } = useFormAct([])
const merge = () =>
  run(async () => {
    if (!data.value) return
    const { kept, gone } = data.value
    const done = await take(
      api.POST('/api/customers/{customer_id}/merge', {
        params: { path: { customer_id: id } },
        body: {
          version: kept.version,
          other,
          other_version: gone.version,
          take: Object.keys(taken).filter((name) => taken[name]),
        },
      }),
    )
    void client.invalidateQueries()
    say(t('customers.merge.done', { name: done.gone }))
    await router.push(`/customers/${id}`)
  })
</script>

<template>
  <div class="page narrow">
    <h1>{{ t('customers.merge.title') }}</h1>
    <p class="soft">{{ t('customers.merge.hint') }}</p>
    <LoadState v-if="!data" :error="error" :rows="6" @again="refetch()" />
    <ElForm v-else class="card" @submit.prevent="merge">
      <table class="list">
        <thead>
          <tr>
            <th />
            <th>{{ t('customers.merge.stays', { number: data.kept.number }) }}</th>
            <th>{{ t('customers.merge.goes', { number: data.gone.number }) }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in rows" :key="row.name">
            <th scope="row">{{ t(`customers.merge.fields.${row.name}` as never) }}</th>
            <template v-if="row.differs">
              <td>
                <ElRadio
                  :model-value="taken[row.name] ?? false"
                  :value="false"
                  :name="row.name"
                  @change="taken[row.name] = false"
                  >{{ row.kept || t('customers.merge.empty') }}</ElRadio
                >
              </td>
              <td>
                <ElRadio
                  :model-value="taken[row.name] ?? false"
                  :value="true"
                  :name="row.name"
                  :disabled="!row.may"
                  @change="taken[row.name] = true"
                  >{{ row.gone || t('customers.merge.empty') }}</ElRadio
                >
                <small v-if="!row.may" class="soft">{{ t('customers.merge.leads') }}</small>
              </td>
            </template>
            <td v-else colspan="2" class="soft">{{ row.kept || t('customers.merge.empty') }}</td>
          </tr>
        </tbody>
      </table>
      <p v-if="moves.length" class="moves">
        {{ t('customers.merge.moves') }}
        <span v-for="[kind, many] in moves" :key="kind">{{
          maybe(`customers.merge.kinds.${kind}`)
            ? tn(`customers.merge.kinds.${kind}` as never, many)
            : `${kind}: ${many}`
        }}</span>
      </p>
      <p v-else class="moves soft">{{ t('customers.merge.nothingMoves') }}</p>
      <p v-if="elsewhere" class="fault" role="alert">{{ elsewhere }}</p>
      <p class="acts">
        <ElButton type="primary" native-type="submit" :loading="busy">{{
          t('customers.merge.act', { gone: data.gone.number, kept: data.kept.number })
        }}</ElButton>
        <RouterLink class="btn quiet" :to="`/customers/${other}/merge?other=${id}`">{{
          t('customers.merge.turn')
        }}</RouterLink>
        <RouterLink class="btn quiet" :to="`/customers/${id}`">{{
          t('kit.step.notYet')
        }}</RouterLink>
      </p>
    </ElForm>
  </div>
</template>

<style scoped>
.narrow {
  max-width: 900px;
}
.card {
  margin-top: 10px;
  padding: 14px 20px;
}
.moves {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
  margin-top: 12px;
}
.acts {
  display: flex;
  gap: 10px;
  margin-top: 14px;
  flex-wrap: wrap;
}
td small {
  margin-left: 8px;
}
tbody th {
  border-bottom: 1px solid var(--rule);
}
@media (max-width: 820px) {
  .card {
    padding: 10px 12px;
  }
  table {
    table-layout: fixed;
  }
  :is(th, td) {
    padding: 6px 4px;
    white-space: normal;
    overflow-wrap: anywhere;
  }
  th:first-child {
    width: 26%;
  }
  td small {
    display: block;
    margin-left: 22px;
  }
  .el-radio {
    height: auto;
    align-items: flex-start;
    margin-right: 0;
    white-space: normal;
  }
}
</style>
