<script setup lang="ts">
import { computed, ref } from 'vue'

/** Lines that show a form on any other site, ready to be copied. */
const props = defineProps<{ formKey: string; publicUrl: string; title: string }>()
const origin = computed(() => new URL(props.publicUrl).origin)

// A closing tag must not end this component's own script.
const end = '<' + '/script>'
const lines = computed(() => [
  {
    label: 'In its place',
    text: `<script async src="${origin.value}/embed.js" data-form="${props.formKey}">${end}`,
  },
  {
    label: 'Your pop-ups, too',
    text: `<script async src="${origin.value}/embed.js" data-pop-ups>${end}`,
  },
  {
    label: 'In a frame that grows',
    text: `<iframe src="${origin.value}/forms/frame/${props.formKey}" title="${props.title.replaceAll('"', '&quot;')}" style="width:100%;border:0" height="600"></iframe><script>addEventListener('message',({data,source})=>{for(const f of document.querySelectorAll('iframe'))if(f.contentWindow===source&&data?.nurtel)f.style.height=data.nurtel.height+'px'})${end}`,
  },
  {
    label: 'For a strict content security policy',
    text: `script-src ${origin.value}; connect-src ${origin.value}; img-src ${origin.value}; font-src ${origin.value}; frame-src ${origin.value}; trusted-types nurtel`,
  },
])
const copied = ref('')
async function copy(text: string): Promise<void> {
  await navigator.clipboard.writeText(text)
  copied.value = text
}
</script>

<template>
  <div class="lines">
    <div v-for="line in lines" :key="line.label">
      <v-textarea :label="line.label" :model-value="line.text" readonly rows="2" class="figures" />
      <v-btn size="small" variant="text" @click="copy(line.text)">
        {{ copied === line.text ? 'Copied' : 'Copy' }}
      </v-btn>
    </div>
  </div>
</template>

<style scoped>
.lines {
  display: grid;
  gap: 8px;
}
</style>
