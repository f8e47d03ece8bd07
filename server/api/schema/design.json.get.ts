import { designJsonSchema } from '../../../core/design/schema'

export default defineEventHandler(event => {
  setHeader(event, 'content-type', 'application/schema+json')
  return designJsonSchema()
})
