import { deskOf } from '../../../../live/desks'

/** What is connected, what is so of each load, and the last messages. */
export default defineEventHandler(async event => {
  const { design } = await storedDesign(event)
  const desk = deskOf(design)
  return { ...desk.view(), traffic: desk.traffic() }
})
