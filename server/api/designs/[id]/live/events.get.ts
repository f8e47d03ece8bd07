import { deskOf } from '../../../../live/desks'
import { openEvents } from '../../../../live/replies'

/** The same, whenever it changes. */
export default defineEventHandler(async event => {
  const { design } = await storedDesign(event)
  const { res } = event.node
  openEvents(res)
  if (!deskOf(design).look(res)) res.end()
  event._handled = true
})
