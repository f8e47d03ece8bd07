/**
 * Thin port over the core: findings and proofs off the main thread. A proof runs in slices, so that
 * it can be stopped.
 */
import { expose } from 'comlink'
import { check, type Checked } from '../../core/checks/check'
import { VerdictCache } from '../../core/checks/verdicts'
import { beside, type Beside } from '../../core/captures/beside'
import { judged, type Judged } from '../../core/captures/blame'
import { begin, type Begun } from '../../core/start/begin'
import type { Drawer } from '../../core/start/drawer'
import { fromKit } from '../../core/start/kits'
import { judge, sketch, type Judgement, type Sketch } from '../../core/start/outlook'
import { BadCapture } from '../../core/captures/packets'
import { readCapture } from '../../core/captures/pieces'
import { linkOf, panelOf } from '../../core/design/find'
import type { Design } from '../../core/design/schema'
import { deviceOf } from '../../core/panels/devices'
import { zoneOf, type Hand } from '../../core/panels/reach'
import { tapStudy, type TapModel, type TapRates } from '../../core/panels/taps'
import { targetsOf } from '../../core/panels/targets'
import { ProfileRun, type ProfileReport, type UseProfile } from '../../core/bench/profile'
import { Study, type StudyPlan, type StudyReport } from '../../core/bench/study'
import {
  carriers,
  repairAll,
  repairs,
  type Carrier,
  type Repair,
  type RepairSearch,
} from '../../core/checks/repairs'
import { applyEdit, type Edit } from '../../core/design/edits/edits'
import { partOfLoad } from '../../core/design/part'
import type { Bounds } from '../../core/proof/bounds'
import { checkedAgain, type CheckedAgain } from '../../core/proof/certify'
import { Exploration } from '../../core/proof/explore'
import { outageTable, type OutageRow } from '../../core/proof/outages'
import { tried } from '../../core/proof/outages-tried'
import { promela } from '../../core/proof/promela'
import type { PromiseId } from '../../core/proof/promises'
import { Proof, type Verdict } from '../../core/proof/prove'
import { Searched } from '../../core/proof/same'
import { System } from '../../core/proof/system'

const cache = new VerdictCache()
let stopped = false
let searched = new Searched()
let searchedIn = 0

/** Goes on in slices, with word of it about ten times a second; false when stopped. */
async function untilDone(slice: () => boolean, tell: () => void): Promise<boolean> {
  let told = performance.now()
  while (!slice()) {
    if (performance.now() - told < 100) continue
    told = performance.now()
    tell()
    await new Promise(resolve => setTimeout(resolve))
    if (stopped) return false
  }
  return true
}

async function generated<T>(
  search: Generator<number, T>,
  onProgress: (tries: number) => void,
): Promise<T | null> {
  stopped = false
  let found: IteratorResult<number, T> = search.next()
  const whole = await untilDone(
    () => {
      if (!found.done) found = search.next()
      return found.done === true
    },
    () => onProgress(found.done ? 0 : found.value),
  )
  return whole && found.done ? found.value : null
}

const api = {
  /** A capture against the design and beside it; or why it cannot be read, in words. */
  capture(
    design: Design,
    linkId: string,
    name: string,
    bytes: Uint8Array,
  ): { judged: Judged; beside: Beside; kind: string } | { trouble: string } {
    try {
      const link = linkOf(design, linkId)
      const capture = readCapture(link, name, bytes)
      return {
        judged: judged(design, link, capture),
        beside: beside(design, link, capture),
        kind: capture.kind,
      }
    } catch (error) {
      if (error instanceof BadCapture) return { trouble: error.message }
      throw error
    }
  },

  /** What is begun out of a drawer, and what is to be said of it. */
  begin(id: string, drawer: Drawer): Begun & { sketch: Sketch } {
    const begun = begin(id, drawer)
    return { ...begun, sketch: sketch(begun.design) }
  },
  kit(id: string, kitId: string): Begun {
    return fromKit(id, kitId)
  },
  judge(design: Design): Judgement {
    return judge(design)
  },

  check(design: Design): Checked {
    return check(design, cache)
  },

  /**
   * The promises of a load; when stopped, with what was found by then. `onProgress` hears the
   * number of situations about ten times a second. `run` names the design: searches of the same run
   * that come to the same are made once.
   */
  async prove(
    design: Design,
    loadId: string,
    bounds: Bounds,
    promises: readonly PromiseId[],
    run: number,
    onProgress: (situations: number) => void,
  ): Promise<{ verdicts: Verdict[]; whole: boolean }> {
    stopped = false
    if (run !== searchedIn) searched = new Searched()
    searchedIn = run
    const proof = new Proof(design, loadId, bounds, { promises, searched })
    const whole = await untilDone(
      () => proof.run(SLICE),
      () => onProgress(proof.situations),
    )
    return { verdicts: proof.verdicts(), whole }
  },

  /** What holds, looked at again by the separate checker. */
  checkAgain(design: Design, verdict: Verdict): CheckedAgain[] {
    return checkedAgain(design, verdict)
  },

  /** Repairs of one broken promise. Null when stopped. */
  repairs(search: RepairSearch, onProgress: (tries: number) => void): Promise<Repair[] | null> {
    return generated(repairs(search), onProgress)
  },

  /** The cheapest repairs of all that is broken. Null when stopped. */
  repairAll(
    design: Design,
    broken: readonly Omit<RepairSearch, 'design'>[],
    onProgress: (tries: number) => void,
  ) {
    return generated(repairAll(design, broken), onProgress)
  },

  /** What carries a promise that holds. Null when stopped. */
  carriers(search: RepairSearch, onProgress: (tries: number) => void): Promise<Carrier[] | null> {
    return generated(carriers(search), onProgress)
  },

  /** Every outage tried on the bench, for each board of the design. */
  outages(parts: readonly Design[], doubles: boolean): OutageRow[][] {
    return parts.map(part =>
      outageTable(part, {
        doubles,
        works: (s, loadId, outages) => tried(part, s, loadId, outages).works,
      }),
    )
  },

  /** Many short runs of the board of a load, as it is or with one edit. Null when stopped. */
  async study(
    design: Design,
    loadId: string,
    plan: StudyPlan,
    edit: Edit | null,
    onProgress: (done: number) => void,
  ): Promise<StudyReport | null> {
    stopped = false
    const applied = edit && applyEdit(design, edit)
    if (applied && !applied.ok) return null
    const study = new Study(partOfLoad(applied ? applied.design : design, loadId), plan)
    return (await untilDone(
      () => study.run(5),
      () => onProgress(study.done),
    ))
      ? study.report()
      : null
  },

  /** The system of a load and a surface as Promela. */
  promela(design: Design, loadId: string, surfaceId: string): string {
    const part = partOfLoad(design, loadId)
    const system = new System(part, loadId, surfaceId)
    system.room = system.least
    const search = new Exploration(system, [])
    while (!search.run(SLICE)) {
      /* on */
    }
    return promela(part, search)
  },

  /** Weeks of use. Null when stopped. `onProgress` hears how many days are over. */
  async weeks(
    design: Design,
    profile: UseProfile,
    onProgress: (days: number) => void,
  ): Promise<ProfileReport | null> {
    stopped = false
    const run = new ProfileRun(design, profile)
    return (await untilDone(
      () => run.run(EVENTS),
      () => onProgress(run.day),
    ))
      ? run.report()
      : null
  },

  /**
   * Taps on a page of a panel: how often each key is missed. A thumb that has to stretch scatters
   * more.
   */
  taps(design: Design, surfaceId: string, page: number, hand: Hand, model: TapModel): TapRates[] {
    const panel = panelOf(design, surfaceId)
    const device = deviceOf(panel)
    return tapStudy(
      targetsOf(design, panel, page),
      { ...model, roundMm: panel.theme.roundMm },
      t => STRETCHED[zoneOf(device, hand, t.box)],
    )
  },

  /** Bytes of the page that is given away: as it is, and compressed as a server would. */
  async weigh(design: Design, surfaceId: string): Promise<{ raw: number; gzipped: number }> {
    const [{ panelPage }, { gzipSync }] = await Promise.all([
      import('../../core/sides/panel-page'),
      import('fflate'),
    ])
    const bytes = new TextEncoder().encode(panelPage(design, surfaceId))
    return { raw: bytes.length, gzipped: gzipSync(bytes, { level: 9 }).length }
  },

  stop(): void {
    stopped = true
  },
}

const SLICE = 5_000
const EVENTS = 20_000
/**
 * How much wider taps scatter where a thumb has to stretch, and where the grip has to change:
 * stated in docs/panels.md.
 */
const STRETCHED = { easy: 1, stretch: 1.25, far: 1.6 }

export type CoreWorker = typeof api
expose(api)
