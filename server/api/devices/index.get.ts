import { listDevices } from '../../db/devices'

/** Whether keys are asked for; which devices have one, and the code for another. */
export default defineEventHandler(async event => {
  if (!keys.guarded) return { guarded: false }
  const me = keys.deviceOf(event.node.req)
  return {
    guarded: true,
    code: keys.code,
    devices: (await listDevices(await useStore())).map(({ keyHash, ...d }) => ({
      ...d,
      me: keyHash === me?.keyHash,
    })),
  }
})
