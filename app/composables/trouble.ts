/** What nobody expected to go wrong is told where whoever is at work sees it. */
const said = new Set<string>()

export function tellTrouble(why: unknown): void {
  const words = why instanceof Error ? why.message : String(why)
  if (said.has(words)) return
  said.add(words)
  ElMessage({
    message: `That did not work: ${words}`,
    type: 'error',
    plain: true,
    showClose: true,
    duration: 0,
    onClose: () => said.delete(words),
  })
}
