import { z } from 'zod'
import { typed } from '../../../../../core/messages/explain'

const bodySchema = z.discriminatedUnion('do', [
  z.strictObject({
    do: z.literal('press'),
    loadId: z.string().max(64),
    want: z.string().max(40),
  }),
  z.strictObject({ do: z.literal('scene'), sceneId: z.string().max(64) }),
  z.strictObject({ do: z.literal('ask') }),
  z.strictObject({ do: z.literal('hello') }),
  z.strictObject({ do: z.literal('measure'), times: z.number().int().min(0).max(2000) }),
  z.strictObject({ do: z.literal('say'), text: z.string().min(1).max(400) }),
])

/** A key is pressed over it, the state or who is there is asked for, or a text is sent as it is. */
export default defineEventHandler(async event => {
  const { connection } = connectionOf(event)
  const body = await readAs(event, bodySchema, 'This cannot be done over a connection')
  const { live } = connection
  if (!live.up)
    throw refuse(409, 'It is not connected now', [
      { path: '', message: connection.why || 'wait until it is back' },
    ])
  const text = body.do === 'say' ? typed(live.link, body.text) : null
  if (text && !text.ok)
    throw refuse(400, 'This cannot be sent', [{ path: '/text', message: text.message }])
  connection.does(now => {
    switch (body.do) {
      case 'press':
        return live.press(body.loadId, body.want, now)
      case 'scene':
        return live.scene(body.sceneId, now)
      case 'ask':
        return live.ask(now)
      case 'hello':
        return void live.askHello(now)
      case 'measure':
        return connection.measure(body.times)
      case 'say':
        return live.say(text?.ok ? text.text : '', now)
    }
  })
  setResponseStatus(event, 204)
  return null
})
