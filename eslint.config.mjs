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
  'live',
  'proof',
  'panels',
  'sides',
  'emulated',
  'read',
  'captures',
  'checks',
  'start',
]

/**
 * Kinds of outputs, links, dialects and sensors. Words that other things are called by too (a level
 * of a pin, a wire of a trace, lines of a table) are meant only where a kind is asked for.
 */
export const KINDS = {
  outputs: ['switched', 'pulsed', 'held', 'opposed', 'level', 'follower'],
  links: ['bluetooth-serial', 'wire', 'udp', 'peer', 'http'],
  dialects: ['codes', 'lines', 'pairs', 'json', 'packed'],
  sensors: [
    'infrared',
    'knob',
    'contact',
    'floats',
    'thermometer',
    'thermistor',
    'analog',
    'battery',
    'two-axis',
  ],
}
/** What is asked for its kind, by how it is called: `output.kind`, `link.dialect.kind`. */
const ASKED = {
  outputs: /^(output|motion|was|is|next)$/,
  links: /^(link|l|over)$/,
  dialects: /^(dialect)$/,
  sensors: /^(sensor|receiver)$/,
}
const kindRules = Object.entries(KINDS).flatMap(([room, kinds]) => {
  const literal = `Literal[value=/^(${kinds.join('|')})$/]`
  const named = `/${ASKED[room].source}/`
  const asked = `MemberExpression[property.name="kind"]:matches([object.name=${named}], [object.property.name=${named}], [object.callee.name=/^${room.slice(0, -1)}Of$/])`
  const message = `Kinds of ${room} are asked for in the ${room} rooms only: take a trait of core/design/${room}/traits.ts, or add a facet (docs/recipes.md).`
  return [
    {
      selector: `BinaryExpression[operator=/^[!=]==?$/]:has(> ${asked}.left, ChainExpression > ${asked}) > ${literal}`,
      message,
    },
    {
      selector: `SwitchStatement[discriminant.property.name="kind"]:has(> ${asked}.discriminant) > SwitchCase > ${literal}`,
      message,
    },
  ]
})

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
    // `core/sides/panel-runtime.ts` is made by `npm run panel-runtime`.
    ignores: [
      'core/sides/panel-runtime.ts',
      'core/sides/panel-runtime-bytes.ts',
      'core/sides/program/engine-text.ts',
      'core/sides/program/image-code.ts',
      'core/sides/program/image-rooms.ts',
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
    name: 'nolvi/kinds-are-rooms',
    files: ['core/**/*.ts', 'app/**/*.ts', 'app/**/*.vue', 'server/**/*.ts'],
    ignores: [
      'core/*/{outputs,links,dialects,sensors,kinds}/**',
      // What documents were.
      'core/design/migrate.ts',
    ],
    rules: {
      'no-restricted-syntax': ['error', ...kindRules],
      'vue/no-restricted-syntax': ['error', ...kindRules],
    },
  },
  {
    name: 'nolvi/few-branches',
    files: ['core/**/*.ts'],
    ignores: [
      // One table of what becomes of a situation, as a function and as a text that is compiled:
      // what is taken apart there is paid for at each of millions of steps.
      'core/proof/{expand,generate}.ts',
    ],
    rules: { complexity: ['error', 25] },
  },
  {
    name: 'nolvi/no-nested-ternaries',
    files: ['core/**/*.ts'],
    rules: { 'no-nested-ternary': 'error' },
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
