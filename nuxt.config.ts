/** Client application on the maker's own machine: no server rendering, nothing fetched from outside. */
export default defineNuxtConfig({
  compatibilityDate: '2026-11-01',
  ssr: false,
  devtools: { enabled: false },
  telemetry: false,
  modules: ['@pinia/nuxt', '@vueuse/nuxt', '@element-plus/nuxt', '@nuxt/eslint'],
  css: [
    '@fontsource-variable/atkinson-hyperlegible-next/wght.css',
    '@fontsource-variable/atkinson-hyperlegible-mono/wght.css',
    '~/assets/theme.css',
    '~/assets/base.css',
  ],
  components: [{ path: '~/components', pathPrefix: false }],
  elementPlus: { importStyle: 'css', icon: false },
  app: {
    head: {
      title: 'Nolvi', htmlAttrs: { lang: 'en' },
      link: [{ rel: 'icon', type: 'image/svg+xml', href: '/icon.svg' }],
      meta: [{ name: 'viewport', content: 'width=device-width, initial-scale=1' }, { name: 'color-scheme', content: 'light dark' }],
    },
  },
  typescript: {
    strict: true, typeCheck: false,
    tsConfig: { compilerOptions: { noUncheckedIndexedAccess: true, noUnusedLocals: true, noUnusedParameters: true } },
  },
  vite: { worker: { format: 'es' }, build: { chunkSizeWarningLimit: 1200 } },
  nitro: { errorHandler: '~~/server/problem-handler', preset: 'node-server' },
  eslint: { config: { stylistic: true } },
})
