import { createVuetify } from 'vuetify'
import { aliases, mdi } from 'vuetify/iconsets/mdi-svg'
import { themes } from '~/theme/palette'

const STORED = 'mast-theme'

export default defineNuxtPlugin((nuxt) => {
  const kept = localStorage.getItem(STORED)
  const prefersNight = window.matchMedia('(prefers-color-scheme: dark)').matches
  const vuetify = createVuetify({
    theme: {
      cspNonce: document.querySelector<HTMLMetaElement>('meta[name=csp-nonce]')?.content,
      defaultTheme: kept === 'day' || kept === 'night' ? kept : prefersNight ? 'night' : 'day',
      themes,
    },
    icons: { defaultSet: 'mdi', aliases, sets: { mdi } },
    defaults: {
      global: { ripple: false },
      VBtn: { variant: 'outlined', density: 'comfortable', rounded: 'sm', class: 'text-none' },
      VTextField: {
        variant: 'outlined',
        density: 'compact',
        hideDetails: 'auto',
        color: 'primary',
      },
      VTextarea: { variant: 'outlined', density: 'compact', hideDetails: 'auto', color: 'primary' },
      VSelect: {
        variant: 'outlined',
        density: 'compact',
        hideDetails: 'auto',
        color: 'primary',
        menuProps: { elevation: 0, class: 'sheet-menu' },
      },
      VAutocomplete: {
        variant: 'outlined',
        density: 'compact',
        hideDetails: 'auto',
        color: 'primary',
        menuProps: { elevation: 0, class: 'sheet-menu' },
      },
      VCheckbox: { density: 'compact', hideDetails: 'auto', color: 'primary' },
      VRadioGroup: { density: 'compact', hideDetails: 'auto', color: 'primary' },
      VFileInput: { variant: 'outlined', density: 'compact', hideDetails: 'auto' },
      VMessages: { transition: false },
      VTable: { density: 'compact' },
      VDialog: { maxWidth: 560, transition: false, scrim: 'on-surface' },
      VCard: { elevation: 0, rounded: 'sm', border: true },
      VTooltip: { transition: false, openDelay: 200 },
      VMenu: { transition: false },
    },
  })
  nuxt.vueApp.use(vuetify)
  watch(vuetify.theme.global.name, (name) => localStorage.setItem(STORED, name))
})
