import { z } from 'zod'
import { id, LIMITS } from '../shapes'
import { linkBase, network, routeCode, routeMessage, routeReading } from './shapes'

export const httpSchema = z.strictObject({
  kind: z.literal('http'),
  ...linkBase,
  network,
  address: z
    .string()
    .max(80)
    .regex(/^http:\/\/[A-Za-z0-9.-]+(:\d{1,5})?$/, 'an address looks like http://192.168.4.1'),
  matching: z
    .enum(['exact', 'prefix', 'contains'])
    .describe('How the board finds the route of a request, in the order of the table'),
  method: z
    .enum(['get', 'post'])
    .describe('How commands are asked for; the state is always read by GET'),
  bodies: z
    .enum(['none', 'form', 'json'])
    .describe(
      'Where parameters of commands stand: in the address, or in a form or JSON body of the POST',
    ),
  page: z
    .strictObject({
      route: routeCode.min(1),
      template: z.string().max(LIMITS.template).describe('HTML with places for the state'),
    })
    .nullable()
    .describe('The page of the board itself, served with the state filled in; null = none'),
  answers: z
    .enum(['text', 'json', 'page'])
    .describe('What answers hold: lines of load=value, a JSON object, or a page for people'),
  askRoute: routeCode.min(2),
  eventsRoute: routeCode.min(2),
  helloRoute: routeCode.describe('Asks who is there; "" = not known'),
  scenes: z.record(id, routeCode).describe('A route for each scene that can be asked for here'),
  messages: z.array(routeMessage).max(LIMITS.loads),
  readings: z.array(routeReading).max(LIMITS.sensors),
})
