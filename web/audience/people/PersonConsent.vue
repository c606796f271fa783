<script setup lang="ts">
import * as api from '../../../contract/api.ts'
import type { ConsentEntry, PersonView } from '../../../contract/audience/people.ts'
import { linkTo } from '../../api.ts'
import { useSession } from '../../workspace/session.ts'
import { whenOf } from '../../wording.ts'

/** What a person agreed to or refused, word for word, with what proves it. */
const props = defineProps<{ person: PersonView }>()
const session = useSession()
const params = { id: props.person.id }

/** Where and how it came about, in short. */
function proofOf({ topic, form, formVersion, site, source, confirmedAt }: ConsentEntry): string {
  const when = confirmedAt && `confirmed by email ${whenOf(confirmedAt, session.zone, props.person.now)}`
  return [
    topic,
    form && form !== source && `form “${form}”`,
    formVersion !== null && `version ${formVersion}`,
    site && site !== source && site,
    when,
  ]
    .filter(Boolean)
    .join(', ')
}
</script>

<template>
  <section aria-label="Consent">
    <h2>Consent</h2>
    <ul v-if="person.consents.length" class="consents">
      <li v-for="(consent, i) in person.consents" :key="i">
        <span class="figures">{{ whenOf(consent.at, session.zone, person.now) }}</span>
        {{ consent.given ? 'given' : 'declined' }}, {{ consent.source }}
        <q>{{ consent.wording }}</q>
        <span v-if="proofOf(consent)" class="proof">{{ proofOf(consent) }}</span>
      </li>
    </ul>
    <p v-else class="soft">Never asked.</p>
    <p v-if="person.consents.length" class="exports">
      <a :href="linkTo(api.people.consentPdf, { params })">Print (PDF)</a>
      <a :href="linkTo(api.people.consentCsv, { params })">Export (CSV)</a>
    </p>
  </section>
</template>

<style scoped>
.consents {
  list-style: none;
  margin: 0;
  padding: 0;
}

.consents li {
  margin-bottom: 8px;
  overflow-wrap: anywhere;
}

q,
.proof {
  display: block;
  color: var(--ink-soft);
}

.exports {
  display: flex;
  gap: 16px;
  margin: 0 0 12px;
}
</style>
