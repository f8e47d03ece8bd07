export default defineEventHandler(event => storedDesign(event))
