/**
 * Findings about what can hurt or wear: what comes on by itself, what moves without an end, memory,
 * drivers that work the other way round.
 */
import type { Danger, Design, Load } from '../design/schema'
import { fullOf, restOf } from '../design/values'
import { wear, WEAR_DEFAULTS } from '../electrical/wear'
import { seconds } from '../units/format'
import { finding, type Finding, type Rule } from './finding'
import { DRIVER_WORDS, isUpsideDown } from '../design/drivers'
import { isOpposed } from '../design/outputs/traits'
import { ruleSets } from '../design/targets'

const DANGEROUS: readonly Danger[] = ['heat', 'gas', 'motion']

function dangersOf({ wiring }: Load): Danger[] {
  return wiring.dangers.filter(d => DANGEROUS.includes(d))
}
const pathOf = (design: Design, load: Load) => `/loads/${design.loads.indexOf(load)}/output`

/** After a power cut nobody may be there: what heats, burns or moves waits for somebody. */
const comesOnAlone: Rule = design =>
  design.loads.flatMap((load): Finding[] => {
    const dangers = dangersOf(load)
    if (!dangers.length) return []
    const { output } = load
    const policy = 'powerUp' in output ? output.powerUp : 'off'
    const rule = design.rules.find(
      r =>
        r.atStart
        && ruleSets(design, r).some(s => s.loadId === load.id && s.value !== restOf(output)),
    )
    const what = dangers.join(' and ')
    const off = {
      words: 'Stay off after a power cut',
      edit: { type: 'setOutput' as const, loadId: load.id, patch: { powerUp: 'off' as const } },
    }
    return [
      ...(policy === 'off'
        ? []
        : [
            finding({
              code: 'comes-on-alone',
              severity: policy === 'on' ? 'stop' : 'warn',
              path: `${pathOf(design, load)}/powerUp`,
              loadId: load.id,
              title: `${load.name} ${policy === 'on' ? 'comes on' : 'can come on'} by itself after a power cut`,
              reason: `It is marked ${what}. When the power returns, at night or with nobody there, it goes ${policy === 'on' ? fullOf(output) : 'back to what it was'} without anybody asking.`,
              fixes: [off],
            }),
          ]),
      ...(rule
        ? [
            finding({
              code: 'comes-on-alone',
              severity: 'stop',
              path: `/rules/${design.rules.indexOf(rule)}/atStart`,
              loadId: load.id,
              title: `"${rule.name}" switches ${load.name} on at every start`,
              reason: `It is marked ${what}. The first reading after a start counts as a crossing, so a power cut alone switches it on.`,
            }),
          ]
        : []),
    ]
  })

/** A transistor to ground conducts when its pin is high, whatever the design says. */
const upsideDown: Rule = design =>
  design.loads.filter(isUpsideDown).map(load =>
    finding({
      code: 'driver-upside-down',
      severity: 'stop',
      path: `${pathOf(design, load)}/activeLevel`,
      loadId: load.id,
      title: `${load.name} is on when it should be off`,
      reason: `It is said to be on when its pin is low, and ${DRIVER_WORDS[load.wiring.driver.kind]} conducts when the pin is high: at rest, and while the board starts, it would be on.`,
      fixes: [
        {
          words: 'On when the pin is high',
          edit: { type: 'setOutput', loadId: load.id, patch: { activeLevel: 'high' } },
        },
      ],
    }),
  )

/** What moves has an end of its own, or it moves into something. */
const movesWithoutEnd: Rule = design =>
  design.loads.flatMap(load => {
    const { output } = load
    if (
      !isOpposed(output)
      || output.runLimitMs > 0
      || (output.forwardEnd !== null && output.reverseEnd !== null)
    )
      return []
    const half = output.forwardEnd !== null || output.reverseEnd !== null
    return [
      finding({
        code: 'moves-without-end',
        severity: load.wiring.dangers.includes('motion') ? 'stop' : 'warn',
        path: `${pathOf(design, load)}/runLimitMs`,
        loadId: load.id,
        title: `${load.name} runs until somebody stops it`,
        reason: `It has ${half ? 'an end contact in one direction only' : 'no end contacts'} and no longest run. A link that is lost, or a hand that goes away, leaves it running against its stop.`,
        fixes: [
          {
            words: 'End a run after 30 s',
            edit: { type: 'setOutput', loadId: load.id, patch: { runLimitMs: 30_000 } },
          },
        ],
      }),
    ]
  })

/**
 * A reading that hovers about a limit acts about this often: once in ten minutes, an assumption to
 * be put right by measuring.
 */
const RULE_ACTS_PER_DAY = 144

/** What a rule switches all day is written to memory all day, where the last state is kept. */
const ruleWearsMemory: Rule = design =>
  design.rules.flatMap((rule, i) =>
    ruleSets(design, rule).flatMap(({ loadId }) => {
      const load = design.loads.find(l => l.id === loadId)
      if (!load || !('powerUp' in load.output) || load.output.powerUp !== 'last') return []
      const years =
        wear({ ...WEAR_DEFAULTS, changesPerDay: RULE_ACTS_PER_DAY }).figures.find(
          f => f.symbol === 'Y',
        )?.value ?? Infinity
      return years >= WEAR_DEFAULTS.wantedYears
        ? []
        : [
            finding({
              code: 'rule-wears-memory',
              severity: 'warn',
              path: `/rules/${i}`,
              loadId,
              title: `"${rule.name}" wears out the memory of ${load.name}`,
              reason: `Each time it acts the state is saved after ${seconds(load.output.saveDelayMs)}. Acting ${RULE_ACTS_PER_DAY} times a day (once in ten minutes) it uses up ${WEAR_DEFAULTS.enduranceWrites.toLocaleString('en')} writes in ${WEAR_DEFAULTS.slots} slots within ${years.toFixed(1)} years. A rule finds the right state by itself after a start.`,
              fixes: [
                {
                  words: 'Start off after a power cut',
                  edit: { type: 'setOutput', loadId, patch: { powerUp: 'off' } },
                },
              ],
            }),
          ]
    }),
  )

export const SAFETY_RULES: readonly Rule[] = [
  comesOnAlone,
  movesWithoutEnd,
  ruleWearsMemory,
  upsideDown,
]
