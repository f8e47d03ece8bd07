/** Lets it go. */
export default defineEventHandler(event => {
  const { desk, connection } = connectionOf(event)
  desk.close(connection.of.id)
  setResponseStatus(event, 204)
  return null
})
