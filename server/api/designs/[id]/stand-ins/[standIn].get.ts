/** State and the last messages of one stand-in. */
export default defineEventHandler(event => {
  const standIn = standInOf(event)
  return { ...standIn.info(), traffic: standIn.traffic }
})
