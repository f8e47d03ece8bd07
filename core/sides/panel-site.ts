/**
 * An installable site of all panels: a start page, the pages, a web app manifest and a service
 * worker that keeps them for when the server is not there. Browsers install sites that came over
 * https, or from the device itself; the text in it says so.
 */
import { panels } from '../design/find'
import { fingerprint } from '../design/fingerprint'
import { parts } from '../design/part'
import { DEFAULT_THEME, type Design } from '../design/schema'
import { panelPage } from './panel-page'
import { startPage } from './start-page'

export interface SiteFile {
  name: string
  type: string
  side: string
  text: string
}

/** All panels as an installable site: pages, manifest, worker. None without panels. */
export function siteFiles(design: Design): SiteFile[] {
  const pages = parts(design).flatMap(({ part }) =>
    panels(part).map(p => ({
      panel: p,
      name: `panel-${p.id}.html`,
      text: panelPage(part, p.id, { site: true }),
    })),
  )
  if (!pages.length) return []
  const print = fingerprint(design)
  const side = 'Installable site'
  return [
    {
      name: 'index.html',
      type: 'text/html',
      side: `${side}: start page`,
      text: startPage(
        design,
        pages.map(p => ({ href: p.name, name: p.panel.name })),
        true,
      ),
    },
    ...pages.map(p => ({
      name: p.name,
      type: 'text/html',
      side: `${side}: ${p.panel.name}`,
      text: p.text,
    })),
    {
      name: 'manifest.webmanifest',
      type: 'application/manifest+json',
      side: `${side}: manifest`,
      text: manifest(design, print),
    },
    {
      name: 'icon.svg',
      type: 'image/svg+xml',
      side: `${side}: icon`,
      text: ICON.replace('<rect', `<desc>${print}</desc><rect`),
    },
    {
      name: 'sw.js',
      type: 'text/javascript',
      side: `${side}: keeps the pages`,
      text: worker(`${design.id} ${print} ${contentMark(pages.map(p => p.text))}`, [
        './',
        'index.html',
        ...pages.map(p => p.name),
        'manifest.webmanifest',
        'icon.svg',
      ]),
    },
    {
      name: 'install.txt',
      type: 'text/plain',
      side: `${side}: how to install it`,
      text: `${INSTALL}\nMade for table ${print}.\n`,
    },
  ]
}

/**
 * Another number for other pages, so that a changed site replaces the kept one (FNV-1a, 32 bits).
 */
function contentMark(texts: readonly string[]): string {
  let hash = 0x811c9dc5
  for (const text of texts)
    for (let i = 0; i < text.length; i++) hash = Math.imul(hash ^ text.charCodeAt(i), 0x01000193)
  return (hash >>> 0).toString(16).padStart(8, '0')
}

function manifest(design: Design, print: string): string {
  const [only, ...more] = design.surfaces.filter(s => s.kind === 'panel')
  return `${JSON.stringify(
    {
      name: design.name,
      description: `Panels for table ${print}`,
      short_name: design.name.slice(0, 12),
      start_url: only && !more.length ? `panel-${only.id}.html` : 'index.html',
      scope: './',
      display: 'standalone',
      background_color: DEFAULT_THEME.paper,
      theme_color: DEFAULT_THEME.ink,
      icons: [{ src: 'icon.svg', sizes: 'any', type: 'image/svg+xml', purpose: 'any' }],
    },
    null,
    2,
  )}\n`
}

/**
 * Kept first, fetched where nothing is kept; only pages of this site, never what a controller
 * answers.
 */
function worker(cache: string, files: readonly string[]): string {
  return `const CACHE = ${JSON.stringify(cache)}
const FILES = ${JSON.stringify(files)}
self.addEventListener('install', event => event.waitUntil(caches.open(CACHE).then(c => c.addAll(FILES)).then(() => self.skipWaiting())))
self.addEventListener('activate', event => event.waitUntil(caches.keys().then(keys => Promise.all(keys.filter(k => k !== CACHE).map(k => caches.delete(k)))).then(() => self.clients.claim())))
self.addEventListener('fetch', (event) => {
  const url = new URL(event.request.url)
  const own = url.origin === location.origin && event.request.method === 'GET' && FILES.some(f => new URL(f, registration.scope).pathname === url.pathname)
  if (own) event.respondWith(caches.match(event.request, { ignoreSearch: true }).then(kept => kept ?? fetch(event.request)))
})
`
}

/** A key and a lamp: half filled, as what waits. */
const ICON =
  '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 64 64"><rect width="64" height="64" rx="12" fill="#fcfaf5"/><rect x="12" y="20" width="40" height="24" rx="5" fill="none" stroke="#24211d" stroke-width="4"/><circle cx="41" cy="32" r="6" fill="#17705f"/></svg>\n'

const INSTALL = `The pages in this folder are a site that phones can install.

1. Put the folder on any web server in your own network: the controller's own file space, a router, a small computer.
2. Open its address on the phone. Browsers offer "install" or "add to home screen" for sites that came over https or from
   the device itself; over plain http the pages work as well, but are not kept.
3. A page that came over https may not ask a controller over plain http: browsers forbid that. Then let the controller
   hand out the pages itself, or put both behind the same https server.
`
