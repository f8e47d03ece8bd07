import { z } from 'zod'
import { addDevice } from '../db/devices'
import { COOKIE } from '../guard/keys'

const bodySchema = z.strictObject({
  code: z.string().max(20),
  name: z.string().max(60).refine(isPlain, 'text without NUL and half characters').default(''),
})
const YEAR_S = 365 * 86_400

/** A key for this device, for the right code. */
export default defineEventHandler(async event => {
  if (!keys.guarded)
    throw refuse(404, 'Nobody has to pair here', [
      { path: '', message: 'Nolvi listens on this machine alone' },
    ])
  const body = await readAs(event, bodySchema, 'This is not a pairing', {
    path: '/code',
    message: 'send {"code": "123456"}',
  })
  const made = keys.pair(body.code)
  if (!made) {
    const wait = Math.ceil(keys.pauseMs / 1000)
    if (wait > 0) {
      setHeader(event, 'retry-after', wait)
      throw refuse(429, 'Too many wrong codes', [
        {
          path: '/code',
          message: `There is a new code in the terminal; it is taken in ${wait} s.`,
        },
      ])
    }
    throw refuse(403, 'This is not the code', [
      { path: '/code', message: 'That is not the code: look at the terminal again.' },
    ])
  }
  const db = await useStore()
  const id = await addDevice(db, body.name || 'A device', made.keyHash)
  if (id === null)
    throw refuse(409, 'Too many devices are paired', [
      { path: '', message: 'withdraw one of them first' },
    ])
  await readKeys(db)
  setCookie(event, COOKIE, made.key, {
    httpOnly: true,
    sameSite: 'strict',
    path: '/',
    maxAge: YEAR_S,
  })
  setResponseStatus(event, 201)
  return { id }
})
