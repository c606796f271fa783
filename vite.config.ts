import { fileURLToPath } from 'node:url'
import vue from '@vitejs/plugin-vue'
import { defineConfig } from 'vite'
import vuetify from 'vite-plugin-vuetify'

export default defineConfig({
  root: fileURLToPath(new URL('web', import.meta.url)),
  base: '/app/',
  plugins: [vue(), vuetify({ autoImport: true })],
  // The server puts a fresh nonce in its place at every request.
  html: { cspNonce: '__NONCE__' },
  // Every component is a setup function: Vue need not bring the other way of writing them.
  define: { __VUE_OPTIONS_API__: false },
  build: {
    outDir: fileURLToPath(new URL('dist/web', import.meta.url)),
    emptyOutDir: true,
    // Inlined pictures and fonts would need a wider content security policy.
    assetsInlineLimit: 0,
  },
})
