// @ts-check
import prettier from 'eslint-config-prettier'
import importX from 'eslint-plugin-import-x'
import withNuxt from './.nuxt/eslint.config.mjs'

/**
 * The rooms of core in their order: a room imports only from rooms above it in this list, and from
 * itself.
 */
export const CORE_ROOMS = [
  'units',
  'bytes',
  'boards',
  'design',
  'electrical',
  'messages',
  'links',
  'controller',
  'surfaces',
  'bench',
  'proof',
  'panels',
  'build',
  'read',
  'checks',
]

const LINES = {
  code: 100,
  ignoreStrings: true,
  ignoreTemplateLiterals: true,
  ignoreRegExpLiterals: true,
}

const zones = [
  ...CORE_ROOMS.flatMap((room, i) =>
    CORE_ROOMS.slice(i + 1).map(later => ({
      target: `./core/${room}`,
      from: `./core/${later}`,
      message: `core/${room} stands above core/${later}: imports go the other way.`,
    })),
  ),
  {
    target: './core',
    from: ['./app', './server', './demo', './scripts', './tests'],
    message: 'core stands on its own.',
  },
  { target: './server', from: './app', message: 'The server does not know the interface.' },
  {
    target: './app',
    from: './server',
    message: 'The interface reaches the server through its routes only.',
  },
]

export default withNuxt(
  {
    // `core/build/panel-runtime.ts` is made by `npm run panel-runtime`.
    ignores: [
      'core/build/panel-runtime.ts',
      'core/build/panel-runtime-bytes.ts',
      'server/db/migrations/**',
      'test-results/**',
      'playwright-report/**',
    ],
  },
  prettier,
  {
    // The formatter lays lines out; what it cannot break is not to run past the edge either.
    name: 'nolvi/lines',
    files: ['**/*.ts', '**/*.mjs'],
    ignores: ['tests/fixtures/corpus.ts'],
    rules: { 'max-len': ['error', LINES] },
  },
  {
    name: 'nolvi/lines-of-components',
    files: ['**/*.vue'],
    rules: {
      'vue/max-len': [
        'error',
        { ...LINES, ignoreHTMLAttributeValues: true, ignoreHTMLTextContents: true },
      ],
    },
  },
  {
    name: 'nolvi/import-direction',
    plugins: { 'import-x': importX },
    settings: {
      'import-x/resolver': { node: { extensions: ['.ts', '.mjs', '.js', '.vue', '.json'] } },
    },
    rules: { 'import-x/no-restricted-paths': ['error', { zones }] },
  },
  {
    name: 'nolvi/core-is-pure',
    files: ['core/**/*.ts'],
    rules: {
      'no-restricted-imports': [
        'error',
        {
          patterns: [
            {
              group: [
                'node:*',
                'vue',
                'vue-*',
                'nuxt',
                'nuxt/*',
                '#*',
                'pinia',
                'element-plus',
                'h3',
                'nitropack',
                'nitropack/*',
              ],
              message: 'core runs anywhere: no interface, no server, no Node.',
            },
          ],
        },
      ],
      'no-restricted-globals': [
        'error',
        'window',
        'document',
        'navigator',
        'process',
        'Buffer',
        'setTimeout',
        'setInterval',
        'performance',
        'fetch',
      ],
      'no-restricted-properties': [
        'error',
        {
          object: 'Math',
          property: 'random',
          message: 'Use the seeded generator of core/units/random.',
        },
        { object: 'Date', property: 'now', message: 'Times are handed in.' },
      ],
    },
  },
)
