/**
 * The walk through Nolvi: ten steps with a copy of the glaze room, from a finding to a press on the
 * emulated board. A step is done when what it asks for is so, whoever did it.
 */
import type { Finding } from '../../../core/checks/finding'
import { PROMISE_IDS } from '../../../core/proof/promises'
import { useBenchStore } from '../../stores/bench'
import { useDesignStore } from '../../stores/design'
import { useEmulatedStore } from '../../stores/emulated'
import { useFindingsStore } from '../../stores/findings'
import { useProofStore } from '../../stores/proof'

export interface WalkStep {
  title: string
  words: string
  /** Where it is done, and whether the findings are seen there. */
  view: string
  beside?: boolean
  done: (at: string) => boolean
}

/** Nothing is known of a design before its first check. */
function gone(is: (finding: Finding) => boolean): boolean {
  const { known, told } = useFindingsStore()
  return known && !told.some(is)
}
const everyProof = () =>
  useProofStore().verdicts.length
  === (useDesignStore().design?.loads.length ?? 0) * PROMISE_IDS.length

/** What lines do before is the start of the board, ms. */
const START_MS = 500

export const WALK: readonly WalkStep[] = [
  {
    title: 'Find',
    words:
      'A sheet: loads down, surfaces across. Hatched cells can go wrong. Open the findings: I, or their count.',
    view: 'sheet',
    done: () => useFindingsStore().open,
  },
  {
    title: 'See',
    words: 'Apron phone can show the wrong state of Booth extractor. Press “Play on bench” there.',
    view: 'sheet',
    beside: true,
    done: at => at === 'bench' && useBenchStore().script !== null,
  },
  {
    title: 'Repair',
    words: 'The hatched ribbon is what was not so. Back at the finding, press its first way out.',
    view: 'sheet',
    beside: true,
    done: () => gone(f => f.code === 'surface-stale' && f.loadId === 'booth-extractor'),
  },
  {
    title: 'Tell apart',
    words: 'The code “1” is the start of “10”: one of them is never heard. Take other codes.',
    view: 'messages',
    beside: true,
    done: () => gone(f => f.code === 'code-prefix'),
  },
  {
    title: 'Sums',
    words: 'The lead of the rinse pump is too thin. Its sum is in Wiring; its way out is a press.',
    view: 'wiring',
    beside: true,
    done: () => gone(f => f.code === 'sum-voltage-drop'),
  },
  {
    title: 'Hands and eyes',
    words: 'What warns comes next: a lever that does nothing, a small key, a cut name. Mend them.',
    view: 'panels',
    beside: true,
    done: () => gone(f => f.severity !== 'note' && f.fixes.length > 0),
  },
  {
    title: 'Prove',
    words: 'Mended is not yet sure. Prove all loads: any number of presses, losses and power cuts.',
    view: 'proof',
    done: at => at === 'proof' && everyProof(),
  },
  {
    title: 'Repair by proof',
    words:
      'P9 of the rinse pump breaks. Choose its cell, find what repairs it, do it, prove once more.',
    view: 'proof',
    done: at => at === 'proof' && everyProof() && useProofStore().broken.length === 0,
  },
  {
    title: 'Flash',
    words: 'Build has its program. Choose the board, and try it on the emulated board.',
    view: 'build',
    done: at => at === 'bench' && useEmulatedStore().started?.ok === true,
  },
  {
    title: 'Press',
    words: 'Machine code runs beside the design. Press a wall button: both have to do the same.',
    view: 'bench',
    done: at =>
      at === 'bench'
      && (useEmulatedStore()
        .news?.lines.flat(2)
        .some(change => change.t > START_MS)
        ?? false),
  },
]
