/**
 * Secrets of the links of a design, kept by the server apart from the document. They are never read
 * back here.
 */
export function useSecrets(designId: () => string) {
  const dates = ref<Record<string, string>>({})
  const refused = ref('')
  const path = () => `/api/designs/${encodeURIComponent(designId())}/secrets`

  async function refresh(): Promise<void> {
    const answer = await ask<Record<string, string>>(path())
    if (answer.ok) dates.value = answer.value
  }
  async function keep(linkId: string, value: string): Promise<boolean> {
    const answer = await ask(`${path()}/${encodeURIComponent(linkId)}`, {
      method: 'PUT',
      body: { value },
    })
    refused.value = answer.ok ? '' : refusalWords(answer.refusal)
    await refresh()
    return answer.ok
  }
  async function forget(linkId: string): Promise<void> {
    await ask(`${path()}/${encodeURIComponent(linkId)}`, { method: 'DELETE' })
    await refresh()
  }
  /**
   * The secrets themselves, for a build that is to hold them: asked for by a person each time, over
   * the network with the code of the moment.
   */
  async function reveal(code?: string): Promise<Record<string, string>> {
    const answer = await ask<Record<string, string>>(`${path()}/reveal`, {
      method: 'POST',
      body: { confirm: true, ...(code === undefined ? {} : { code }) },
    })
    refused.value = answer.ok ? '' : refusalWords(answer.refusal)
    return answer.ok ? answer.value : {}
  }
  void refresh()
  return { dates, refused, keep, forget, reveal }
}
