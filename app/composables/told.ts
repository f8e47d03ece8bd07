/** What work comes to; null when it fell over: why stands in `trouble` then, and "" till then. */
export async function told<T>(trouble: Ref<string>, work: () => Promise<T>): Promise<T | null> {
  trouble.value = ''
  try {
    return await work()
  } catch (error) {
    trouble.value = (error as Error).message
    return null
  }
}
