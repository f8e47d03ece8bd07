/** A choice without a pin: nothing is switched, pages show it. */
import { rememberedOf } from './facet'
import type { OutputFacet, OutputValues } from './facet'
import { stepped } from './level'
import type { OutputOf } from './schema'

export const choiceValues: OutputValues<OutputOf<'choice'>> = {
  values: ({ choices }) => choices.map(c => c.id),
  valueWords: (value, { choices }) => choices.find(c => c.id === value)?.words,
}

export const choice: OutputFacet<OutputOf<'choice'>> = {
  words: 'a choice that pages show',
  lines: () => [],
  forms: () => ['each', 'stepper', 'shown'],
  asks: (output, control) => stepped(choiceValues.values(output), control),
  relative: true,
  drivers: () => ['none'],
  fresh: old => ({
    kind: 'choice',
    choices: [
      { id: 'a', words: 'open', picture: null },
      { id: 'b', words: 'closed', picture: null },
    ],
    ...rememberedOf(old),
  }),
}
