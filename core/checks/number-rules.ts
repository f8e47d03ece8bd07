/** Findings about values that are told as numbers. */
import { linkTitle } from '../design/find'
import type { Design, Link } from '../design/schema'
import { isFine, valuesOf, valueWords } from '../design/values'
import { speaksRoutes } from '../design/links/traits'
import { numberCodesFor, saysNumbers } from '../messages/assign'
import { numberCode } from '../messages/setpoints'
import { rows } from '../messages/table'
import { numberCodes } from '../messages/places'
import { finding, onLink, type Finding, type Rule } from './finding'

/** A link that knows the named values alone, of a load that can stand between them. */
const numbersUnsaid: Rule = design => design.links.flatMap(link => unsaidOn(design, link))

function unsaidOn(design: Design, link: Link): Finding[] {
  return rows(design, link).flatMap(({ load, message }) => {
    if (!isFine(load.output) || numberCode(message) !== '') return []
    const named = valuesOf(load.output).map(value => valueWords(load.output, value))
    const heard = speaksRoutes(link)
      ? 'What it hears is the number itself.'
      : 'Where it stands between two of them, the nearer one is told.'
    const codes = { [load.id]: numberCodesFor(design, link, load, message.codes) }
    return [
      finding({
        ...onLink(design, link, `/messages/${link.messages.findIndex(m => m.loadId === load.id)}`),
        code: 'numbers-unsaid',
        severity: 'note',
        loadId: load.id,
        title: `${linkTitle(design, link)} asks ${load.name} for its named values alone`,
        reason: `${load.name} takes any number, and has codes here for ${named.join(', ')}. ${heard} ${saysNumbers(link) ? 'One code with a place for the number says them all.' : 'Short codes have no end behind a number; another dialect has.'}`,
        fixes: saysNumbers(link)
          ? [
              {
                words: 'One code for all numbers',
                edit: { type: 'assignCodes', linkId: link.id, codes },
              },
            ]
          : [],
        cause: { key: link.id, subject: load.name },
      }),
    ]
  })
}

/** What is asked for in numbers by nobody. */
const numbersUnasked: Rule = design =>
  design.loads.flatMap((load, i) => {
    if (!isFine(load.output)) return []
    const asked = design.links.some(link =>
      numberCodes(design, link).some(n => n.load.id === load.id && n.step === null),
    )
    return asked
      ? []
      : [
          finding({
            path: `/loads/${i}/output`,
            code: 'numbers-unasked',
            severity: 'note',
            loadId: load.id,
            title: `Nothing asks ${load.name} for a number`,
            reason: `It can stand at any number, and every code asks for one of ${valuesOf(load.output).length} named values. Give a link a code with a place for the number, or leave the numbers out.`,
          }),
        ]
  })

export const NUMBER_RULES: readonly Rule[] = [numbersUnsaid, numbersUnasked]
