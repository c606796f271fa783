<script setup lang="ts">
import { ref } from 'vue'
import * as api from '../../contract/api.ts'
import { newSender, type SenderView } from '../../contract/sending.ts'
import { call } from '../api.ts'
import { useAttempts } from '../attempt.ts'
import { useEditDialog } from '../editDialog.ts'
import ActionMenu from '../frame/ActionMenu.vue'
import ProblemNote from '../frame/ProblemNote.vue'
import QuickDialog from '../frame/QuickDialog.vue'
import StateMark from '../frame/StateMark.vue'
import { useLoaded } from '../loading.ts'

/** From whom emails come: each has said yes by a click in its own mailbox. */
const { data, problem } = useLoaded((signal) => call(api.senders.list, { signal }), ['workspace'])
const { refused, attempt } = useAttempts()
const asked = ref('')

const dialog = useEditDialog(newSender, { name: '', address: '' }, async (id, body) => {
  if (id !== null) return call(api.senders.rename, { params: { id }, body: { name: body.name } })
  await call(api.senders.create, { body })
  asked.value = body.address
})

function actionsOf(sender: SenderView): { title: string; run: () => void; destructive?: boolean }[] {
  const { id, name, address, confirmed, usual } = sender
  const params = { id }
  const act = (work: () => Promise<unknown>) => () => void attempt(work)
  return [
    { title: 'Rename', run: () => dialog.begin(id, { name, address }) },
    ...(confirmed
      ? []
      : [
          {
            title: 'Send the link again',
            run: act(async () => {
              await call(api.senders.ask, { params })
              asked.value = address
            }),
          },
        ]),
    ...(confirmed && !usual
      ? [{ title: 'Make it the usual sender', run: act(() => call(api.senders.makeUsual, { params })) }]
      : []),
    ...(usual
      ? []
      : [{ title: 'Delete', run: act(() => call(api.senders.delete, { params })), destructive: true }]),
  ]
}
</script>

<template>
  <section class="panel" aria-labelledby="senders">
    <div class="panel-head">
      <h2 id="senders">Senders</h2>
      <v-btn size="small" color="secondary" @click="dialog.begin(null, { name: '', address: '' })">
        New sender
      </v-btn>
    </div>
    <div class="body">
      <ProblemNote :problem="problem ?? refused" />
      <p v-if="asked" class="soft" role="status">
        A link is on its way to {{ asked }}. Once it is opened there, emails can come from that address.
      </p>
      <ul v-if="data">
        <li v-for="sender in data" :key="sender.id">
          <div>
            <strong>{{ sender.name }}</strong>
            <span class="address">{{ sender.address }}</span>
            <span class="soft">{{
              sender.usual
                ? 'Emails that name no other sender come from here.'
                : sender.usedIn.length
                  ? `Used in ${sender.usedIn.join(', ')}.`
                  : 'No email comes from here yet.'
            }}</span>
          </div>
          <StateMark :tone="sender.confirmed ? 'clear' : 'lamp'">{{
            sender.confirmed ? (sender.usual ? 'usual sender' : 'confirmed') : 'not confirmed'
          }}</StateMark>
          <ActionMenu label="Actions" size="small" :actions="actionsOf(sender)" />
        </li>
      </ul>
    </div>
    <QuickDialog
      v-model="dialog.open"
      :title="dialog.id ? 'Rename sender' : 'New sender'"
      :submit-label="dialog.id ? 'Save' : 'Add and ask the address'"
      :problem="dialog.form.problem"
      :busy="dialog.form.busy"
      @submit="dialog.save"
    >
      <v-text-field v-bind="dialog.form.field('name')" label="Name that readers see" />
      <template v-if="!dialog.id">
        <v-text-field v-bind="dialog.form.field('address')" label="Address" type="email" />
        <p class="soft">
          We write to this address. Emails can come from it once somebody opens the link there.
        </p>
      </template>
    </QuickDialog>
  </section>
</template>

<style scoped>
.panel-head h2 {
  flex: 1;
}

.body {
  padding: 4px 16px 12px;
}

ul {
  margin: 0;
  padding: 0;
  list-style: none;
}

li {
  display: grid;
  grid-template-columns: 1fr auto auto;
  gap: 12px;
  align-items: center;
  padding: 10px 0;
}

li + li {
  border-top: 1px solid var(--rule);
}

li > div {
  display: grid;
}

.address {
  overflow-wrap: anywhere;
}
</style>
