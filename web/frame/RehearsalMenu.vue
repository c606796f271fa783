<script setup lang="ts">
import { ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { contactList } from '../../contract/audience.ts'
import { find } from '../api.ts'
import { useLoaded } from '../loading.ts'

const { data } = useLoaded(
  (signal) => find('/people/find', { rehearsal: 'only', sort: 'name' }, contactList, signal),
  ['audience'],
)

const open = ref(false)
const route = useRoute()
watch(
  () => route.path,
  () => (open.value = false),
)
</script>

<template>
  <v-menu v-model="open">
    <template #activator="{ props: menu }">
      <v-btn v-bind="menu" size="small" variant="text">Rehearsal</v-btn>
    </template>
    <div class="panel pop">
      <h3>Rehearsal people</h3>
      <p class="soft">Made up, with a clock of their own. They are counted nowhere; their mail stays here.</p>
      <ul>
        <li v-for="person in data?.rows ?? []" :key="person.id">
          <router-link :to="`/people/${person.id}`">{{ person.name || person.address }}</router-link>
        </li>
      </ul>
      <p v-if="data?.rows.length === 0" class="soft">
        Nobody yet. Open a person and mark them as rehearsal, or sign up on a page yourself.
      </p>
    </div>
  </v-menu>
</template>

<style scoped>
.pop {
  padding: 16px;
  width: 280px;
}

ul {
  list-style: none;
  margin: 0;
  padding: 0;
}

li a {
  display: block;
  padding: 4px 0;
}
</style>
