/** The walk through Nolvi: which design it goes through, and how many steps are done; "" = none. */
import { useLocalStorage } from '@vueuse/core'

export function useWalk() {
  return useLocalStorage('nolvi walk', { designId: '', done: 0 })
}
