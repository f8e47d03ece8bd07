import { listDesigns } from '../../db/designs'

export default defineEventHandler(async () => listDesigns(await useStore()))
