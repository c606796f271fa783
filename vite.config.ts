import { fileURLToPath } from 'node:url'
import vue from '@vitejs/plugin-vue'
import { defineConfig, type Plugin } from 'vite'
import vuetify from 'vite-plugin-vuetify'

/**
 * Making a component of Vuetify, or the list of its properties, does nothing else: marked so, the bundler leaves out
 * what nobody uses, also in a module of which something else is needed.
 */
const pureComponents: Plugin = {
  name: 'pure-components',
  transform: {
    filter: { id: /vuetify\/lib\/(components|composables)\/.*\.js$/ },
    handler: (code) =>
      code.replace(/(?<!function )\b(make\w+Props|propsFactory|genericComponent)\(/g, '/*#__PURE__*/ $&'),
  },
}

export default defineConfig({
  root: fileURLToPath(new URL('web', import.meta.url)),
  base: '/app/',
  plugins: [vue(), vuetify({ autoImport: true }), pureComponents],
  // The server puts a fresh nonce in its place at every request.
  html: { cspNonce: '__NONCE__' },
  define: { __VUE_OPTIONS_API__: false, __VUE_PROD_DEVTOOLS__: false },
  build: {
    outDir: fileURLToPath(new URL('dist/web', import.meta.url)),
    emptyOutDir: true,
    // Inlined pictures and fonts would need a wider content security policy.
    assetsInlineLimit: 0,
  },
})
