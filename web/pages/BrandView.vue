<script setup lang="ts">
import { computed, onMounted, ref, shallowRef, useTemplateRef, watch } from 'vue'
import * as api from '../../contract/api.ts'
import { composer } from '../../core/blocks/compose.ts'
import {
  brand as brandShape,
  contrastsOf,
  typefaces,
  type Brand,
  type BrandColours,
} from '../../core/pages/brand.ts'
import { call, problemOf } from '../api.ts'
import { useAttempts } from '../attempt.ts'
import { newPartId } from '../blocks/editing.ts'
import FieldInput from '../blocks/inspector/FieldInput.vue'
import type { Field } from '../blocks/inspector/fields.ts'
import PictureInput from '../blocks/inspector/PictureInput.vue'
import { sheetContext, useSite } from '../blocks/site.ts'
import { simpleForm } from '../../core/capture/form.ts'
import ProblemNote from '../frame/ProblemNote.vue'
import StateMark from '../frame/StateMark.vue'
import StationTabs from '../frame/StationTabs.vue'
import { useNowIso } from '../now.ts'
import { drawSample } from './brandSample.ts'

/** How the business looks to its public, beside a sample page that wears it. */
const library = useSite()
const brand = shallowRef<Brand | null>(null)
const problem = ref(null as ReturnType<typeof problemOf> | null)
const saved = ref(false)
const frame = useTemplateRef<HTMLIFrameElement>('frame')
const now = useNowIso()
const { refused, busy, attempt } = useAttempts()

onMounted(async () => {
  try {
    await library.reload()
    brand.value = library.site?.brand ?? null
  } catch (error) {
    problem.value = problemOf(error)
  }
})

const set = (given: Partial<Brand>): void => {
  if (brand.value) brand.value = { ...brand.value, ...given }
  saved.value = false
}
const setColour = (name: keyof BrandColours, hex: string): void => {
  if (brand.value) set({ colours: { ...brand.value.colours, [name]: hex } })
}

const colours: { key: keyof BrandColours; label: string }[] = [
  { key: 'background', label: 'Background' },
  { key: 'tint', label: 'Tint' },
  { key: 'text', label: 'Text' },
  { key: 'accent', label: 'Buttons and links' },
  { key: 'onAccent', label: 'Text on buttons' },
]
const faces = Object.entries(typefaces).map(([value, { family }]) => ({ value, title: family }))
const isColour = (hex: string): boolean => /^#[0-9a-f]{6}$/i.test(hex)
const contrasts = computed(() =>
  brand.value && Object.values(brand.value.colours).every(isColour) ? contrastsOf(brand.value.colours) : [],
)
const links = (path: string): Field => ({
  path,
  label: 'Links',
  as: 'entries',
  one: 'link',
  mayBeEmpty: true,
  fresh: { label: 'Link', target: { to: 'nowhere' } },
  fields: [
    { path: 'label', label: 'Name', as: 'line' },
    { path: 'target', label: 'Leads to', as: 'target' },
  ],
})
const [headerLinks, footerLinks] = [links('header.links'), links('footer.links')]

const { block, text, section, document } = composer(newPartId)
const sample = document(
  section([
    {
      share: 3,
      blocks: [
        block('heading', { level: 1, words: 'A promise in one line' }),
        text('A few words below it, as your visitors read them, long enough to fill a second line.'),
        block('list', { items: ['What they get', 'How soon they get it'] }),
        block('button', { label: 'Send it to me' }),
      ],
    },
    { share: 2, blocks: [block('form', { form: 1 })] },
  ]),
  section(
    [
      {
        blocks: [
          block('quotes', {
            quotes: [{ words: 'It was easier than I thought.', name: 'A reader', about: '', picture: null }],
          }),
        ],
      },
    ],
    {
      background: 'tinted',
    },
  ),
)

watch([brand, frame], () => {
  const valid = brandShape.safeParse(brand.value)
  if (!frame.value || !library.site || !valid.success) return
  drawSample(frame.value, sample, {
    ...sheetContext(library.site, Date.parse(now.value)),
    brand: valid.data,
    formOf: () => ({ id: 1, version: 1, content: simpleForm(), fields: [] }),
    editing: false,
  })
})

async function save(): Promise<void> {
  const read = brandShape.safeParse(brand.value)
  if (!read.success) return
  saved.value = await attempt(() => call(api.site.setBrand, { body: read.data }))
}
</script>

<template>
  <div class="screen">
    <div class="screen-head">
      <h1>Brand</h1>
      <StationTabs of="Library" />
      <span class="grow" />
      <span v-if="saved" class="soft" role="status">saved</span>
      <v-btn color="secondary" :loading="busy" :disabled="!brand" @click="save">Save brand</v-btn>
    </div>
    <ProblemNote :problem="problem ?? refused" />
    <div v-if="brand" class="two">
      <section class="panel set" aria-label="Settings">
        <PictureInput
          :model-value="brand.logo"
          label="Logo"
          @update:model-value="(logo: number | null) => set({ logo })"
        />
        <h2>Colours</h2>
        <div v-for="{ key, label } in colours" :key="key" class="colour">
          <span class="swatch">
            <svg width="32" height="32" aria-hidden="true">
              <rect
                width="32"
                height="32"
                rx="4"
                :fill="isColour(brand.colours[key]) ? brand.colours[key] : '#fff'"
              />
            </svg>
          </span>
          <v-text-field
            :model-value="brand.colours[key]"
            :label="label"
            :error-messages="isColour(brand.colours[key]) ? '' : 'Use a colour such as #7A2048'"
            @update:model-value="(hex: string) => setColour(key, hex.trim())"
          />
          <v-menu :close-on-content-click="false">
            <template #activator="{ props: menu }">
              <v-btn v-bind="menu" size="small" variant="text" :aria-label="`Choose: ${label}`">Choose</v-btn>
            </template>
            <v-color-picker
              :model-value="brand.colours[key]"
              mode="hex"
              :modes="['hex']"
              @update:model-value="(hex: string) => setColour(key, hex.slice(0, 7).toUpperCase())"
            />
          </v-menu>
        </div>
        <ul class="contrasts" aria-label="Contrast">
          <li v-for="look in contrasts" :key="look.words">
            <StateMark :tone="look.enough ? 'clear' : 'stop'">
              {{ look.words }}: {{ look.ratio.toFixed(1)
              }}{{ look.enough ? '' : ', at least 4.5 is readable' }}
            </StateMark>
          </li>
        </ul>
        <h2>Typefaces</h2>
        <v-select
          :model-value="brand.headings"
          label="Headings"
          :items="faces"
          @update:model-value="(headings: Brand['headings']) => set({ headings })"
        />
        <v-select
          :model-value="brand.body"
          label="Text"
          :items="faces"
          @update:model-value="(body: Brand['body']) => set({ body })"
        />
        <h2>Shape</h2>
        <div class="pair">
          <v-select
            :model-value="brand.corner"
            label="Corner, px"
            :items="[0, 4, 8, 16, 28]"
            @update:model-value="(corner: Brand['corner']) => set({ corner })"
          />
          <v-select
            :model-value="brand.width"
            label="Width, px"
            :items="[840, 960, 1080, 1200]"
            @update:model-value="(width: Brand['width']) => set({ width })"
          />
        </div>
        <h2>Header</h2>
        <FieldInput :field="headerLinks" :of="brand" @update:of="(next) => set(next)" />
        <h2>Footer</h2>
        <v-textarea
          :model-value="brand.footer.words"
          label="Words"
          @update:model-value="(words: string) => brand && set({ footer: { ...brand.footer, words } })"
        />
        <FieldInput :field="footerLinks" :of="brand" @update:of="(next) => set(next)" />
      </section>
      <section class="panel sample" aria-label="Sample page">
        <iframe ref="frame" title="Sample page" tabindex="-1" />
      </section>
    </div>
    <p v-else-if="!problem" class="soft">Loading…</p>
  </div>
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: 360px minmax(0, 1fr);
  gap: 16px;
  align-items: start;
}

.set {
  display: grid;
  gap: 12px;
  padding: 14px 16px;
}

h2 {
  font-size: 14px;
  line-height: 20px;
}

.colour {
  display: flex;
  align-items: center;
  gap: 8px;
}

.swatch {
  border: 1px solid var(--rule);
  border-radius: 4px;
  line-height: 0;
}

.contrasts {
  list-style: none;
  padding: 0;
  margin: 0;
}

.pair {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px;
}

.sample {
  position: sticky;
  top: 16px;
  overflow: hidden;
}

iframe {
  width: 100%;
  height: calc(100vh - 220px);
  border: 0;
  display: block;
}
</style>
