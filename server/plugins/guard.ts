/**
 * Before anything is answered, files too: the name asked for, where the page that asks comes from,
 * what it sends, and whose key it has.
 */
import { foreignName, foreignPage, foreignType, type Foreign } from '../guard/origin'
import { HEADERS, pagePolicy, PREVIEW_POLICY, WORKER_POLICY } from '../guard/headers'
import { pairPage } from '../guard/pair-page'

const TYPES = { '/api/restore': ['application/gzip'] } as Record<string, readonly string[]>
const JSON_TYPES = ['application/json']

export default defineNitroPlugin(nitro => {
  // In front of everything, the files of the application too. What a hook refuses the framework
  // would only note down.
  nitro.h3App.stack.unshift({
    route: '/',
    handler: defineEventHandler(event => {
      const { method = 'GET', headers, url = '' } = event.node.req
      const path = url.split('?')[0] ?? ''
      setHeaders(event, { ...HEADERS })
      // A worker gets the policy of its own file; on what is no worker it has no effect.
      if (path === '/preview.html') setHeader(event, 'content-security-policy', PREVIEW_POLICY)
      else if (path.startsWith('/_nuxt/'))
        setHeader(event, 'content-security-policy', WORKER_POLICY)
      if (path.startsWith('/api/')) setHeader(event, 'cache-control', 'no-store')
      const foreign: Foreign | null =
        foreignName(headers)
        ?? (path.startsWith('/api/') || (method !== 'GET' && method !== 'HEAD')
          ? (foreignPage(method, headers)
            ?? foreignType(method, headers, TYPES[path] ?? JSON_TYPES))
          : null)
      if (foreign)
        throw refuse(foreign.status, foreign.title, [{ path: '', message: foreign.message }])
      if (keys.allows(event.node.req) || (path === '/api/pair' && method === 'POST')) return
      const wantsPage =
        (method === 'GET' || method === 'HEAD')
        && !path.startsWith('/api/')
        && (headers.accept ?? '').includes('text/html')
      throw wantsPage
        ? createError({ statusCode: 401, data: { page: pairPage() } })
        : refuse(401, 'This device is not paired', [
            {
              path: '',
              message: 'open Nolvi in a browser of this device and give the pairing code',
            },
          ])
    }),
  })
  const policies = new Map<string, string>()
  nitro.hooks.hook('render:response', response => {
    const body = typeof response.body === 'string' ? response.body : ''
    const policy = policies.get(body) ?? pagePolicy(body)
    policies.set(body, policy)
    if (policies.size > 20) policies.clear()
    response.headers = { ...response.headers, 'content-security-policy': policy }
    delete response.headers['x-powered-by']
  })
})
