/**
 * Errors that nobody took up. Silence would pass for "all is well", and a button that waits for an
 * answer would wait for ever.
 */
export default defineNuxtPlugin(nuxt => {
  const tell = async (why: unknown) => (await import('../composables/trouble')).tellTrouble(why)
  window.addEventListener('unhandledrejection', event => void tell(event.reason))
  nuxt.hook('vue:error', error => void tell(error))
})
