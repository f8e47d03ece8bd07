/** Thin port over the core: findings and proofs off the main thread. A proof runs in slices, so that it can be stopped. */
import { expose } from 'comlink'
import { check, type Checked } from '../../core/checks/check'
import { VerdictCache } from '../../core/checks/verdicts'
import { panelOf } from '../../core/design/find'
import type { Design } from '../../core/design/schema'
import { deviceOf } from '../../core/panels/devices'
import { zoneOf, type Hand } from '../../core/panels/reach'
import { tapStudy, type TapModel, type TapRates } from '../../core/panels/taps'
import { targetsOf } from '../../core/panels/targets'
import { ProfileRun, type ProfileReport, type UseProfile } from '../../core/bench/profile'
import { Proof, type Verdict } from '../../core/proof/prove'
import type { Bounds } from '../../core/proof/system'

const cache = new VerdictCache()
let stopped = false

const api = {
  check(design: Design): Checked {
    return check(design, cache)
  },

  /** Null when stopped. `onProgress` hears the number of situations about ten times a second. */
  async prove(design: Design, loadId: string, bounds: Bounds, onProgress: (situations: number) => void): Promise<Verdict | null> {
    stopped = false
    const proof = new Proof(design, loadId, bounds)
    let told = performance.now()
    while (!proof.run(SLICE)) {
      if (performance.now() - told > 100) {
        told = performance.now()
        onProgress(proof.situations)
        await new Promise(resolve => setTimeout(resolve))
        if (stopped) return null
      }
    }
    return proof.verdict()
  },

  /** Weeks of use. Null when stopped. `onProgress` hears how many days are over. */
  async weeks(design: Design, profile: UseProfile, onProgress: (days: number) => void): Promise<ProfileReport | null> {
    stopped = false
    const run = new ProfileRun(design, profile)
    let told = performance.now()
    while (!run.run(EVENTS)) {
      if (performance.now() - told < 100) continue
      told = performance.now()
      onProgress(run.day)
      await new Promise(resolve => setTimeout(resolve))
      if (stopped) return null
    }
    return run.report()
  },

  /** Taps on a page of a panel: how often each key is missed. A thumb that has to stretch scatters more. */
  taps(design: Design, surfaceId: string, page: number, hand: Hand, model: TapModel): TapRates[] {
    const panel = panelOf(design, surfaceId)
    const device = deviceOf(panel)
    return tapStudy(targetsOf(design, panel, page), { ...model, roundMm: panel.theme.roundMm }, t => STRETCHED[zoneOf(device, hand, t.box)])
  },

  /** Bytes of the page that is given away: as it is, and compressed as a server would. */
  async weigh(design: Design, surfaceId: string): Promise<{ raw: number, gzipped: number }> {
    const [{ panelPage }, { gzipSync }] = await Promise.all([import('../../core/build/panel-page'), import('fflate')])
    const bytes = new TextEncoder().encode(panelPage(design, surfaceId))
    return { raw: bytes.length, gzipped: gzipSync(bytes, { level: 9 }).length }
  },

  stop(): void {
    stopped = true
  },
}

const SLICE = 5_000
const EVENTS = 20_000
/** How much wider taps scatter where a thumb has to stretch, and where the grip has to change: stated in docs/panels.md. */
const STRETCHED = { easy: 1, stretch: 1.25, far: 1.6 }

export type CoreWorker = typeof api
expose(api)
