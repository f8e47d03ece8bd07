/** A page that leads to the panels of a design, without anything from elsewhere. */
import { fingerprint } from '../design/fingerprint'
import type { Design } from '../design/schema'
import { html } from './escape'

/** `site`: it is installed, and has a manifest and an icon beside it. */
export function startPage(
  design: Design,
  links: readonly { href: string; name: string }[],
  site = false,
): string {
  const beside = site
    ? '<link rel="manifest" href="manifest.webmanifest">\n<link rel="icon" href="icon.svg">'
    : '<link rel="icon" href="data:,">'
  return `<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<meta name="color-scheme" content="light dark">
<meta name="nolvi-fingerprint" content="${fingerprint(design)}">
${beside}
<title>${html(design.name)}</title>
<style>
body{margin:0;padding:24px;font:18px/1.4 "Atkinson Hyperlegible Next Variable",system-ui,sans-serif;background:#fcfaf5;color:#24211d}
a{display:block;color:inherit;font-weight:700;padding:16px 0;border-top:1px solid #978c7c}h1{font-size:20px}
@media (prefers-color-scheme:dark){body{background:#262320;color:#f0eadd}}
</style>
</head>
<body>
<main>
<h1 dir="auto">${html(design.name)}</h1>
${links.map(l => `<a href="${html(l.href)}" dir="auto">${html(l.name)}</a>`).join('\n')}
</main>
</body>
</html>
`
}
