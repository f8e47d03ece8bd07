/** What is selected on the sheet; other views start from it. */
import { defineStore } from 'pinia'

export const useSelectionStore = defineStore('selection', () => {
  const loadId = ref<string | null>(null)
  const surfaceId = ref<string | null>(null)
  function select(load: string | null, surface: string | null): void {
    loadId.value = load
    surfaceId.value = surface
  }
  return { loadId, surfaceId, select }
})
