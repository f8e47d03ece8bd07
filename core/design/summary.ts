/** What a shelf tells of a design without opening it. */
export interface DesignSummary {
  id: string
  name: string
  place: string
  revision: number
  updatedAt: string
  loads: number
  fingerprint: string
  /** Why it cannot be opened; null = it can. */
  unreadable: string | null
  /** What was written onto each of its boards last; null = a program that says no table. */
  boards: { controllerId: string; fingerprint: string | null; at: string }[]
  /** What was proved last: promises kept of those asked, at which revision; null = nothing yet. */
  proved: { passed: number; of: number; revision: number } | null
}
