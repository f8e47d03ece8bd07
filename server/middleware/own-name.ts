/**
 * Only addresses and names of this house are answered. A page from elsewhere that has its own name point here ("DNS rebinding")
 * would else read designs and secrets as if it were Nolvi.
 */
import { isIP } from 'node:net'

export default defineEventHandler((event) => {
  const named = `http://${getHeader(event, 'host') ?? ''}`
  const hostname = URL.canParse(named) ? new URL(named).hostname : ''
  const bare = hostname.replace(/^\[|\]$/g, '')
  if (isIP(bare) || bare === 'localhost' || bare.endsWith('.local') || bare === (process.env.NOLVI_HOST ?? '').toLowerCase()) return
  throw refuse(421, 'This is not the name of Nolvi', [{ path: '', message: `"${hostname}" is no address of this machine; use http://127.0.0.1, localhost, a name that ends in .local, or start with NOLVI_HOST` }])
})
