import { z } from 'zod'
import { asks, id, pin } from '../shapes'
import { sensorBase } from './shapes'

const sent = {
  address: z.number().int().min(0).max(0xffff),
  command: z.number().int().min(0).max(0xffff),
}
export const infraredSchema = z.strictObject({
  kind: z.literal('infrared'),
  ...sensorBase,
  pin,
  keys: z
    .array(
      z.union([
        z.strictObject({ ...sent, loadId: id, asks }),
        z.strictObject({ ...sent, sceneId: id }).describe('Asks for a scene'),
      ]),
    )
    .max(60)
    .describe('Keys that were learnt'),
})
