import { join } from 'node:path'
import { build } from 'esbuild'

/**
 * Client application on the maker's own machine: no server rendering, nothing fetched from outside.
 */
export default defineNuxtConfig({
  modules: ['@pinia/nuxt', '@vueuse/nuxt', '@element-plus/nuxt', '@nuxt/eslint'],
  ssr: false,
  components: [{ path: '~/components', pathPrefix: false }],
  devtools: { enabled: false },
  app: {
    head: {
      title: 'Nolvi',
      htmlAttrs: { lang: 'en' },
      link: [{ rel: 'icon', type: 'image/svg+xml', href: '/icon.svg' }],
      meta: [
        { name: 'viewport', content: 'width=device-width, initial-scale=1' },
        { name: 'color-scheme', content: 'light dark' },
      ],
    },
  },
  css: [
    '@fontsource-variable/atkinson-hyperlegible-next/wght.css',
    '@fontsource-variable/atkinson-hyperlegible-mono/wght.css',
    '~/assets/theme.css',
    '~/assets/base.css',
  ],
  // The server is on the same machine: other views are fetched when a pointer or the focus comes
  // near their link.
  experimental: {
    defaults: { nuxtLink: { prefetchOn: { visibility: false, interaction: true } } },
  },
  compatibilityDate: '2026-11-01',
  nitro: { errorHandler: '~~/server/problem-handler', preset: 'node-server' },
  vite: { worker: { format: 'es' }, build: { chunkSizeWarningLimit: 1200 } },
  typescript: {
    strict: true,
    typeCheck: false,
    tsConfig: {
      compilerOptions: {
        noUncheckedIndexedAccess: true,
        noUnusedLocals: true,
        noUnusedParameters: true,
      },
    },
  },
  telemetry: false,
  hooks: {
    // What takes long runs in workers of the server: a file of its own beside it
    // (server/utils/heavy.ts).
    'nitro:init': nitro => {
      const outfile = join(nitro.options.output.serverDir, 'heavy.mjs')
      if (nitro.options.dev) process.env.NOLVI_HEAVY = outfile
      nitro.hooks.hook('compiled', async () => {
        await build({
          entryPoints: [join(import.meta.dirname, 'server/workers/heavy.ts')],
          outfile,
          bundle: true,
          platform: 'node',
          format: 'esm',
          target: 'node20',
          logLevel: 'error',
        })
      })
    },
  },
  elementPlus: { importStyle: 'css', icon: false },
  eslint: { config: { stylistic: false } },
})
