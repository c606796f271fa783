import 'vuetify/styles/core'
import { createVuetify } from 'vuetify'
import { aliases, mdi } from 'vuetify/iconsets/mdi-svg'

const shared = { lamp: '#F2B632' }

/** The colours of look.md as a Vuetify theme, and their dark twin. */
const platform = {
  dark: false,
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

export function platformTheme() {
  const cspNonce = styleNonce()
  return createVuetify({
    theme: { defaultTheme: 'platform', themes: { platform, night }, ...(cspNonce && { cspNonce }) },
    icons: { defaultSet: 'mdi', aliases, sets: { mdi } },
    defaults: {
      VBtn: { variant: 'flat', rounded: 'sm', ripple: false },
      VTextField: { variant: 'outlined', density: 'compact', hideDetails: 'auto', rounded: 'sm' },
      VSelect: { variant: 'outlined', density: 'compact', hideDetails: 'auto', rounded: 'sm' },
      VTooltip: { location: 'top' },
    },
  })
}
