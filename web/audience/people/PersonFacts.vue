<script setup lang="ts">
import { ref } from 'vue'
import * as api from '../../../contract/api.ts'
import type { PersonView } from '../../../contract/audience/people.ts'
import { countryName } from '../../../core/audience/people/country.ts'
import { formatFieldValue } from '../../../core/audience/describing/field.ts'
import { call } from '../../api.ts'
import { useAttempts } from '../../attempt.ts'
import ProblemNote from '../../frame/ProblemNote.vue'
import { useLoaded } from '../../loading.ts'
import { dayOf } from '../../wording.ts'
import { useSession } from '../../workspace/session.ts'
import MarketingStateMark from './MarketingStateMark.vue'

/** Who they are: what is known, tags and topics, edited in place. */
const props = defineProps<{ person: PersonView }>()
const session = useSession()
const { data: fields } = useLoaded((signal) => call(api.fields.list, { signal }), [])
const { data: tags } = useLoaded((signal) => call(api.tags.list, { signal }), ['audience'])
const { data: topics } = useLoaded((signal) => call(api.topics.list, { signal }), [])

const { refused, attempt } = useAttempts()
const params = () => ({ id: props.person.id })

/** The field for a new tag begins empty. */
const noTag: string | null = null
/** Bound to a new instance after each tag, which is how the field empties itself. */
const added = ref(0)
async function addTag(name: string | null): Promise<void> {
  const tag = name?.trim() ?? ''
  if (tag === '') return
  if (await attempt(() => call(api.people.tag, { params: params(), body: { add: [tag] } }))) added.value += 1
}
const removeTag = (tag: number) =>
  attempt(() => call(api.people.tag, { params: params(), body: { remove: [tag] } }))
const setTopic = (topic: number, agreed: boolean) =>
  attempt(() => call(api.people.setTopic, { params: params(), body: { topic, agreed } }))
/** An address breaks only behind its @, when it must. */
const partsOf = (address: string): [string, string] => {
  const at = address.lastIndexOf('@') + 1
  return [address.slice(0, at), address.slice(at)]
}
</script>

<template>
  <div>
    <ProblemNote :problem="refused" />
    <dl>
      <dt>Address</dt>
      <dd>
        {{ partsOf(person.address)[0] }}<wbr />{{ partsOf(person.address)[1] }}
        <span v-for="other in person.otherAddresses" :key="other" class="soft other">also {{ other }}</span>
      </dd>
      <dt>Marketing</dt>
      <dd>
        <MarketingStateMark :state="person.marketingState" />
        <span v-if="person.pausedUntil" class="soft other"
          >paused until {{ dayOf(person.pausedUntil, session.zone) }}</span
        >
      </dd>
      <dt>Joined</dt>
      <dd>
        <span class="figures">{{ dayOf(person.createdAt, session.zone) }}</span>
        <span v-for="(value, name) in person.source" :key="name" class="soft other"
          >{{ name }} {{ value }}</span
        >
      </dd>
      <template v-if="person.country || person.zone">
        <dt>Location</dt>
        <dd>{{ [countryName(person.country ?? ''), person.zone].filter(Boolean).join(', ') }}</dd>
      </template>
      <template v-if="person.phone">
        <dt>Phone</dt>
        <dd class="figures">{{ person.phone }}</dd>
      </template>
      <template v-if="person.language">
        <dt>Language</dt>
        <dd>{{ person.language }}</dd>
      </template>
      <template v-for="field in fields ?? []" :key="field.id">
        <template v-if="person.fields[field.id] !== undefined">
          <dt>{{ field.name }}</dt>
          <dd>{{ formatFieldValue(field, person.fields[field.id]) }}</dd>
        </template>
      </template>
      <dt>Tags</dt>
      <dd>
        <div class="tags">
          <v-chip
            v-for="tag in person.tags"
            :key="tag.id"
            closable
            :close-label="`Remove tag ${tag.name}`"
            @click:close="removeTag(tag.id)"
          >
            {{ tag.name }}
          </v-chip>
        </div>
        <v-combobox
          :key="added"
          :model-value="noTag"
          :items="(tags ?? []).map(({ name }) => name)"
          label="Add tag"
          maxlength="80"
          @update:model-value="addTag"
        />
      </dd>
      <template v-if="topics?.length">
        <dt>Topics</dt>
        <dd>
          <v-checkbox
            v-for="topic in topics.filter(({ archived }) => !archived)"
            :key="topic.id"
            :model-value="person.topics.some(({ id }) => id === topic.id)"
            :label="topic.name"
            @update:model-value="(agreed) => setTopic(topic.id, agreed === true)"
          />
        </dd>
      </template>
    </dl>
  </div>
</template>

<style scoped>
dl {
  display: grid;
  grid-template-columns: 76px minmax(0, 1fr);
  gap: 8px;
  margin: 0 0 16px;
}

dt {
  color: var(--ink-soft);
}

dd {
  margin: 0;
  overflow-wrap: break-word;
}

.other {
  display: block;
}

.tags {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
  margin-bottom: 8px;
}
</style>
