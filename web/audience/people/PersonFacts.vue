<script setup lang="ts">
import { ref } from 'vue'
import { fieldList, tagList, topicList } from '../../../contract/audience/describing.ts'
import type { PersonView } from '../../../contract/audience/people.ts'
import { countryName } from '../../../core/audience/people/country.ts'
import { formatFieldValue } from '../../../core/audience/describing/field.ts'
import { change, read } from '../../api.ts'
import { useAttempts } from '../../attempt.ts'
import ProblemNote from '../../frame/ProblemNote.vue'
import { useLoaded } from '../../loading.ts'
import { dayOf } from '../../wording.ts'
import { useSession } from '../../workspace/session.ts'
import MarketingStateMark from './MarketingStateMark.vue'

/** Who they are: what is known, tags and topics, changed in place. */
const props = defineProps<{ person: PersonView }>()
const session = useSession()
const { data: fields } = useLoaded((signal) => read('/fields', fieldList, signal), [])
const { data: tags } = useLoaded((signal) => read('/tags', tagList, signal), ['audience'])
const { data: topics } = useLoaded((signal) => read('/topics', topicList, signal), [])

const typed = ref('')
const { refused, attempt } = useAttempts()
const put = (path: string, body: unknown) => attempt(() => change(`/people/${props.person.id}/${path}`, body))

async function addTag(): Promise<void> {
  const name = typed.value.trim()
  if (name === '') return
  typed.value = ''
  await put('tags', { add: [name] })
}
</script>

<template>
  <div>
    <ProblemNote :problem="refused" />
    <dl>
      <dt>Address</dt>
      <dd>
        {{ person.address }}
        <span v-for="other in person.otherAddresses" :key="other" class="soft other">also {{ other }}</span>
      </dd>
      <dt>Marketing</dt>
      <dd>
        <MarketingStateMark :state="person.marketingState" />
        <span v-if="person.pausedUntil" class="soft other"
          >paused until {{ dayOf(person.pausedUntil, session.zone) }}</span
        >
      </dd>
      <dt>Came in</dt>
      <dd>
        <span class="figures">{{ dayOf(person.createdAt, session.zone) }}</span>
        <span v-for="(value, name) in person.source" :key="name" class="soft other"
          >{{ name }} {{ value }}</span
        >
      </dd>
      <template v-if="person.country || person.zone">
        <dt>Lives in</dt>
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
        <span v-for="tag in person.tags" :key="tag.id" class="tag">
          {{ tag.name }}
          <button
            type="button"
            class="off"
            :aria-label="`Take off the tag ${tag.name}`"
            @click="put('tags', { remove: [tag.id] })"
          >
            ×
          </button>
        </span>
        <form @submit.prevent="addTag">
          <input
            v-model="typed"
            class="plain"
            list="all-tags"
            aria-label="Add a tag"
            placeholder="add a tag"
            maxlength="80"
          />
          <datalist id="all-tags">
            <option v-for="each in tags ?? []" :key="each.id" :value="each.name" />
          </datalist>
        </form>
      </dd>
      <template v-if="topics?.length">
        <dt>Topics</dt>
        <dd>
          <label v-for="topic in topics.filter(({ archived }) => !archived)" :key="topic.id" class="topic">
            <input
              class="plain"
              type="checkbox"
              :checked="person.topics.some(({ id }) => id === topic.id)"
              @change="
                put('topics', { topic: topic.id, agreed: ($event.target as HTMLInputElement).checked })
              "
            />
            {{ topic.name }}
          </label>
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
  overflow-wrap: anywhere;
}

dd {
  margin: 0;
  overflow-wrap: anywhere;
}

.other,
.topic {
  display: block;
}

.tag {
  white-space: normal;
  margin-bottom: 4px;
}

form .plain {
  width: 130px;
}
</style>
