import 'vuetify/styles/core'
import { createVuetify } from 'vuetify'
import { aliases, mdi } from 'vuetify/iconsets/mdi-svg'

const shared = { lamp: '#F2B632' }

/** Colours of lanes and chart series that colour-blind people can tell apart (Okabe & Ito 2008). */
export const seriesColours = ['#0072B2', '#E69F00', '#009E73', '#CC79A7', '#56B4E9', '#D55E00'] as const

/** What is typed or read is not thinned out. */
const variables = { 'high-emphasis-opacity': 1, 'medium-emphasis-opacity': 0.85 }

/** The colours of the product as a Vuetify theme, and their dark twin. */
const platform = {
  dark: false,
  variables,
  colors: {
    ...shared,
    background: '#F6F3EC',
    surface: '#FFFFFF',
    'on-background': '#14323C',
    'on-surface': '#14323C',
    primary: '#0E5A6B',
    secondary: '#C8451F',
    error: '#A3202B',
    success: '#2E7D4F',
    ink: '#14323C',
    'ink-soft': '#4A636B',
    rule: '#D8D2C4',
  },
}

const night = {
  dark: true,
  variables,
  colors: {
    ...shared,
    background: '#0D2028',
    surface: '#14323C',
    'on-background': '#F1EDE3',
    'on-surface': '#F1EDE3',
    primary: '#7CC4D4',
    secondary: '#FF9A76',
    error: '#FF9AA2',
    success: '#8BD4A8',
    ink: '#F1EDE3',
    'ink-soft': '#B4C4C8',
    rule: '#33525D',
  },
}

/** The nonce of this page, without which the theme's styles would not be let in. */
function styleNonce(): string | undefined {
  return document.querySelector<HTMLMetaElement>('meta[property=csp-nonce]')?.nonce || undefined
}

/** How every field looks: compact, outlined, with corners of 4 px; its faults take room only when there are some. */
const field = {
  variant: 'outlined',
  density: 'compact',
  hideDetails: 'auto',
  rounded: 'sm',
  color: 'primary',
} as const

/** How every choice of yes or no looks. */
const choice = { density: 'compact', hideDetails: 'auto', color: 'primary', ripple: false } as const

const table = { density: 'compact', hover: true, fixedHeader: true } as const

/** One set of defaults for all controls; what differs is a class, such as `inline`, never another element. */
const defaults = {
  VBtn: { variant: 'flat', rounded: 'sm', ripple: false },
  VTextField: field,
  VFileInput: { ...field, prependIcon: '', prependInnerIcon: '$file' },
  VTextarea: { ...field, autoGrow: true, rows: 2 },
  VNumberInput: { ...field, controlVariant: 'hidden' },
  VSelect: { ...field, menuProps: { maxHeight: 360, transition: false } },
  VAutocomplete: { ...field, autoSelectFirst: 'exact', menuProps: { maxHeight: 360, transition: false } },
  VCombobox: { ...field, menuProps: { maxHeight: 360, transition: false } },
  VDateInput: { ...field, prependIcon: '', prependInnerIcon: '$calendar' },
  VFileUpload: { density: 'compact' },
  VCheckbox: choice,
  VCheckboxBtn: choice,
  VRadioGroup: choice,
  VRadio: choice,
  VSwitch: { ...choice, inset: true },
  VChip: { variant: 'outlined', rounded: 'sm', size: 'small' },
  VTabs: { density: 'compact', color: 'primary' },
  VTab: { ripple: false },
  VAlert: { variant: 'outlined', density: 'compact', border: 'start', rounded: 'sm' },
  VList: { density: 'compact' },
  VDataTable: table,
  VDataTableServer: table,
  // Rows of this height let a table know at once which of them one can see.
  VDataTableVirtual: { ...table, itemHeight: 36 },
  // A list of choices draws those that its menu can show, also when it opens.
  VVirtualScroll: { itemHeight: 32, height: 360 },
  VProgressLinear: { color: 'primary', height: 6, rounded: true },
  VTooltip: { location: 'top' },
} as const

export function platformTheme() {
  const cspNonce = styleNonce()
  return createVuetify({
    theme: { defaultTheme: 'platform', themes: { platform, night }, ...(cspNonce && { cspNonce }) },
    icons: { defaultSet: 'mdi', aliases, sets: { mdi } },
    defaults,
  })
}
