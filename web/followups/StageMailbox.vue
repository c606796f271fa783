<script setup lang="ts">
import { computed, ref } from 'vue'
import * as api from '../../contract/api.ts'
import type { RehearsalStage } from '../../contract/followups.ts'
import { linkTo } from '../api.ts'
import { whenOf } from '../wording.ts'
import { useSession } from '../workspace/session.ts'

/** The mailbox of somebody in rehearsal: their real emails, whose links do what they say. */
const props = defineProps<{ mail: RehearsalStage['mail']; problem: string | null; now: string }>()
const session = useSession()
const chosen = ref<number | null>(null)
/** The newest one, until another is chosen. */
const open = computed(() => props.mail.find(({ id }) => id === chosen.value) ?? props.mail[0])
</script>

<template>
  <p v-if="problem" class="none" role="alert">{{ problem }}</p>
  <p v-else-if="!mail.length" class="none soft">No mail yet.</p>
  <template v-else>
    <ul aria-label="Their mail, newest first">
      <li v-for="each in mail" :key="each.id">
        <button
          type="button"
          :aria-current="each.id === open?.id ? 'true' : undefined"
          @click="chosen = each.id"
        >
          <span class="figures soft">{{ whenOf(each.at, session.zone, now) }}</span>
          <span class="subject">{{ each.subject }}</span>
        </button>
      </li>
    </ul>
    <iframe
      v-if="open"
      :key="open.id"
      :src="linkTo(api.email.messageHtml, { params: { id: open.id } })"
      sandbox="allow-popups allow-popups-to-escape-sandbox"
      :title="`The email ${open.subject}`"
    />
  </template>
</template>

<style scoped>
.none {
  margin: 0;
  padding: 16px;
}

ul {
  list-style: none;
  margin: 0;
  padding: 0;
  max-height: 150px;
  overflow: auto;
  border-bottom: 1px solid var(--rule);
}

button {
  display: grid;
  grid-template-columns: 156px minmax(0, 1fr);
  gap: 12px;
  width: 100%;
  padding: 6px 16px;
  border: 0;
  border-left: 3px solid transparent;
  background: none;
  color: inherit;
  font: inherit;
  text-align: left;
  cursor: pointer;
}

button[aria-current] {
  border-left-color: var(--petrol);
  background: color-mix(in srgb, var(--petrol) 8%, transparent);
}

.subject {
  font-weight: 600;
}

iframe {
  display: block;
  width: 100%;
  height: max(360px, calc(100vh - 480px));
  border: 0;
  background: #fff;
}
</style>
