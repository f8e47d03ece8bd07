/**
 * What no route of the interface takes would be answered with the application's page, which a
 * program cannot read.
 */
export default defineNitroPlugin(nitro => {
  nitro.hooks.hook('render:before', ({ event }) => {
    const path = event.path.split('?')[0] ?? ''
    if (path.startsWith('/api/'))
      throw refuse(404, `There is no ${event.method} ${path}`, [
        { path: '', message: 'docs/architecture.md lists the routes and their methods' },
      ])
  })
})
