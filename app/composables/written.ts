/** What was written onto the boards of a design last, from here. */
import type { KeptRecord } from '../../core/bench/record'
import type { UploadRun } from '../../core/boards/upload-record'

/** Newest records that are looked through. */
const MOST_LOOKED = 8

export function useWritten(designId: () => string) {
  /** By controller: the fingerprint of what was written; "" where the program carries none. */
  const last = ref<ReadonlyMap<string, string>>(new Map())

  async function refresh(): Promise<void> {
    const path = `/api/designs/${designId()}/records`
    const found = new Map<string, string>()
    const list = await ask<KeptRecord[]>(path)
    const uploads = list.ok ? list.value.filter(r => r.kind === 'upload') : []
    for (const { id } of uploads.slice(0, MOST_LOOKED)) {
      const run = await ask<UploadRun>(`${path}/${id}`)
      if (run.ok && !found.has(run.value.controllerId))
        found.set(run.value.controllerId, run.value.fingerprint ?? '')
    }
    last.value = found
  }
  watch(designId, refresh, { immediate: true })
  return { last, refresh }
}
