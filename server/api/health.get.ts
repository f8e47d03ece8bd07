export default defineEventHandler(async () => {
  await useStore()
  return { status: 'ok', product: 'nolvi', demo: process.env.NOLVI_DEMO === '1' }
})
