import '@fontsource-variable/overpass'
import '@fontsource-variable/overpass-mono'
import { createPinia } from 'pinia'
import { createApp } from 'vue'
import App from './App.vue'
import { router } from './router.ts'
import { platformTheme } from './theme.ts'
import './style.css'

createApp(App).use(createPinia()).use(router).use(platformTheme()).mount('#app')
