/**
 * Pages that a board with a network gives away: its panels, zipped into its program
 * (engine/boards/web/site.h). They ask for their secret; none stands in them.
 */
import { gzipSync } from 'fflate'
import { panels } from '../../design/find'
import { speaksRoutes } from '../../design/links/traits'
import type { Design } from '../../design/schema'
import { cppComment, cppString } from '../escape'
import { panelPage } from '../panel-page'
import { startPage } from '../start-page'
import { byteLines } from './byte-lines'
import { head } from './folder'

export interface ServedPage {
  route: string
  name: string
  zipped: Uint8Array
}

/** Where the pages of several panels are chosen from. */
const ALL_PANELS = '/panels'

/** Where a board gives the page of a panel away. */
export const panelRoute = (panelId: string): string => `/panel/${panelId}`

/** The pages of a part, and where "/" leads; "" = nowhere. */
export function servedPages(part: Design): { pages: ServedPage[]; first: string } {
  const own = panels(part).filter(p => speaksRoutes(part.links.find(l => l.id === p.linkId)))
  const pages = own.map(p => page(panelRoute(p.id), p.name, panelPage(part, p.id)))
  const [only, more] = pages
  if (!only || !more) return { pages, first: only?.route ?? '' }
  const links = pages.map(({ route, name }) => ({ href: route, name }))
  return {
    pages: [page(ALL_PANELS, 'All panels', startPage(part, links)), ...pages],
    first: ALL_PANELS,
  }
}

function page(route: string, name: string, text: string): ServedPage {
  // With a fixed time the same design gives the same bytes.
  return { route, name, zipped: gzipSync(new TextEncoder().encode(text), { level: 9, mtime: 0 }) }
}

/** `constant`: how the compiler keeps arrays out of memory, where the board has to be told. */
export function pagesText(part: Design, constant = ''): string {
  const { pages, first } = servedPages(part)
  const arrays = pages.flatMap(({ name, zipped }, i) => [
    `// ${cppComment(name)}`,
    `static const uint8_t PAGE_${i + 1}[] ${constant ? `${constant} ` : ''}= {`,
    ...byteLines(zipped),
    '};',
  ])
  const rows = pages.map(
    ({ route, zipped }, i) =>
      `    {${cppString(route)}, "text/html", PAGE_${i + 1}, ${zipped.length}},`,
  )
  return [
    ...head(part),
    ...(constant ? ['#include <Arduino.h>', ''] : []),
    '#include "site.h"',
    '',
    'namespace nolvi {',
    '',
    ...arrays,
    'const Page PAGES[] = {',
    ...(rows.length ? rows : ['    {"", "", nullptr, 0},']),
    '};',
    `const uint8_t PAGE_COUNT = ${pages.length};`,
    `const char FIRST_PAGE[] = ${cppString(first)};`,
    '',
    '}  // namespace nolvi',
    '',
  ].join('\n')
}
