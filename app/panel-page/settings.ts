/** The settings sheet in the foot of a page: where its controller is, and what proves a command. */

interface Kept {
  /** Where the controller is asked; null where nobody has to say. */
  address: string | null
  /** What proves a command, where it is asked for here. */
  asks: string | null
  stored(what: string): string | null
  store(what: string, value: string): void
  forget(what: string): void
}

/** The sheet, open where a key is missing; null where there is nothing to set. */
export function settings({ address, asks, stored, store, forget }: Kept): HTMLElement | null {
  if (address === null && asks === null) return null
  const sheet = document.createElement('div')
  const field = (
    label: string,
    value: string,
    change: (value: string) => void,
  ): HTMLInputElement => {
    const input: HTMLInputElement = document.createElement('input')
    input.autocomplete = 'off'
    input.value = value
    input.addEventListener('change', () => change(input.value.trim()))
    const line = document.createElement('label')
    line.append(label, input)
    sheet.append(line)
    return input
  }
  if (address !== null)
    field('Address of the controller', address, at => {
      store('at', at)
      location.search = `?at=${encodeURIComponent(at)}`
    })
  if (asks !== null)
    field(
      asks === 'pin' ? 'PIN of this panel' : 'Key of this panel',
      stored('secret') ?? '',
      secret => {
        store('secret', secret)
        location.reload()
      },
    ).type = 'password'
  if ('wakeLock' in navigator) sheet.append(awake(stored, store))
  const button = document.createElement('button')
  button.textContent = 'Forget what this device keeps'
  button.addEventListener('click', () => {
    for (const what of ['at', 'secret', 'pin']) forget(what)
    location.href = location.pathname
  })
  sheet.append(button)
  const whole = document.createElement('details')
  const summary = document.createElement('summary')
  summary.textContent = 'Settings'
  whole.append(summary, sheet)
  // Without it no command is taken.
  whole.open = asks !== null && stored('secret') === null
  return whole
}

/** Keeps the screen on while the page is seen, where somebody wants that. */
function awake(stored: Kept['stored'], store: Kept['store']): HTMLElement {
  const box: HTMLInputElement = document.createElement('input')
  box.type = 'checkbox'
  box.checked = stored('awake') === 'yes'
  let lock: WakeLockSentinel | null = null
  const look = async () => {
    await lock?.release()
    lock =
      box.checked && !document.hidden
        ? await navigator.wakeLock.request('screen').catch(() => null)
        : null
  }
  box.addEventListener('change', () => {
    store('awake', box.checked ? 'yes' : '')
    void look()
  })
  // A page that was hidden has lost it.
  document.addEventListener('visibilitychange', () => void look())
  void look()
  const line = document.createElement('label')
  line.append(box, 'Keep the screen on')
  return line
}
