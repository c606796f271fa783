<script setup lang="ts">
import { computed, ref } from 'vue'
import type { SiteView } from '../../contract/pages.ts'
import type { LimitedTo } from '../../core/pages/page.ts'
import ConditionGroup from '../audience/segments/ConditionGroup.vue'
import { asGroup, type Group } from '../audience/segments/subjects.ts'

/** Who may see a page, and what the others get. */
const props = defineProps<{ site: SiteView }>()
const limitedTo = defineModel<LimitedTo | null>({ required: true })

type Others = LimitedTo['others']
const fresh: { [K in Others['get']]: () => Others | null } = {
  text: () => ({ get: 'text', words: 'This page is for our readers. Open it from the link in our email.' }),
  page: () => {
    const page = props.site.pages.find(({ live }) => live)
    return page ? { get: 'page', page: page.id } : null
  },
  address: () => ({ get: 'address', url: 'https://example.com' }),
}

const some = computed({
  get: () => limitedTo.value !== null,
  set(wanted: boolean) {
    const others = fresh.text()
    limitedTo.value = wanted && others ? { people: asGroup(null), others } : null
  },
})
const people = computed({
  get: () => asGroup(limitedTo.value?.people ?? null),
  set: (group: Group) => limitedTo.value && (limitedTo.value = { ...limitedTo.value, people: group }),
})
const setOthers = (others: Others | null): void => {
  if (limitedTo.value && others) limitedTo.value = { ...limitedTo.value, others }
}

const kinds: { title: string; value: Others['get'] }[] = [
  { title: 'a text', value: 'text' },
  { title: 'another page', value: 'page' },
  { title: 'an address', value: 'address' },
]
const words = computed(() => (limitedTo.value?.others.get === 'text' ? limitedTo.value.others.words : ''))
const page = computed(() => (limitedTo.value?.others.get === 'page' ? limitedTo.value.others.page : null))
const pages = computed(() => props.site.pages.map(({ id, name }) => ({ value: id, title: name })))
const url = ref(
  limitedTo.value?.others.get === 'address' ? limitedTo.value.others.url : 'https://example.com',
)
function typeUrl(typed: string): void {
  url.value = typed
  if (URL.canParse(typed) && /^https?:/.test(typed)) setOthers({ get: 'address', url: typed })
}
</script>

<template>
  <div class="limited">
    <v-switch v-model="some" label="Only for some people" />
    <template v-if="limitedTo">
      <p class="soft">Visitors known to us who match see it:</p>
      <ConditionGroup v-model="people" :depth="0" />
      <v-select
        :model-value="limitedTo.others.get"
        label="Others get"
        :items="kinds"
        @update:model-value="(get: Others['get']) => setOthers(fresh[get]())"
      />
      <v-textarea
        v-if="limitedTo.others.get === 'text'"
        :model-value="words"
        label="Text for others"
        @update:model-value="(typed: string) => typed && setOthers({ get: 'text', words: typed })"
      />
      <v-autocomplete
        v-if="limitedTo.others.get === 'page'"
        :model-value="page"
        label="Page for others"
        :items="pages"
        @update:model-value="(id: number | null) => id !== null && setOthers({ get: 'page', page: id })"
      />
      <v-text-field
        v-if="limitedTo.others.get === 'address'"
        :model-value="url"
        label="Address for others"
        @update:model-value="typeUrl"
      />
    </template>
  </div>
</template>

<style scoped>
.limited {
  display: grid;
  gap: 8px;
}

.limited p {
  margin: 0;
}
</style>
