<script setup lang="ts">
import { ref } from 'vue'
import * as api from '../../contract/api.ts'
import { call } from '../api.ts'
import { useLoaded } from '../loading.ts'

const open = ref(true)
const { data } = useLoaded(
  (signal) => call(api.people.find, { body: { rehearsal: 'only', sort: 'name' }, signal }),
  ['audience'],
)
</script>

<template>
  <v-menu v-model="open">
    <v-card title="Rehearsal people" width="300">
      <v-card-text class="soft">
        Made up, with a clock of their own. They are counted nowhere, and their mail stays here.
      </v-card-text>
      <v-list v-if="data?.rows.length" role="menu">
        <v-list-item
          v-for="person in data.rows"
          :key="person.id"
          role="menuitem"
          :to="`/rehearsal/${person.id}`"
          :title="person.name || person.address"
        />
      </v-list>
      <v-card-text v-else-if="data" class="soft">
        Nobody yet. Open a person and mark them as rehearsal, or sign up on one of your pages.
      </v-card-text>
    </v-card>
  </v-menu>
</template>
