import type { BuiltFile } from '../../../../../core/sides/files'

/** `?open` shows the file in the browser instead of saving it. */
export default defineEventHandler(async event => {
  const { design } = await storedDesign(event)
  const name = getRouterParam(event, 'file') ?? ''
  const file = JSON.parse(
    (await work(event, 'file', { design, name })).toString('utf8'),
  ) as BuiltFile | null
  if (!file) throw refuse(404, `This design makes no file "${printable(name)}"`)
  setHeader(event, 'content-type', `${file.type}; charset=utf-8`)
  setHeader(
    event,
    'content-disposition',
    getQuery(event).open === undefined ? `attachment; filename="${file.name}"` : 'inline',
  )
  // A previewed page is made from a maker's design: it gets no rights on Nolvi's own address.
  setHeader(event, 'content-security-policy', 'sandbox allow-scripts allow-downloads')
  return file.text
})
