/** Pages of panels, and the keys and parts on them. */
import { defineEdit, type PatchOf } from './define'
import { anyKeyOf, dropKey, EditRefused, itemOf, listed, ownKeysOf, pageOf } from './parts'
import { KEY_FORMS, partTitle } from '../forms/forms'
import type { PanelItem, PanelKey, PanelPart, PanelSurface, Theme } from '../schema'
import { farSurfaceOf, loadOf, panelOf, surfaceOf } from '../find'
import { itemTitle } from '../items'

export const panelsEdits = {
  setPanel: defineEdit<{
    surfaceId: string
    patch: Partial<Pick<PanelSurface, 'device' | 'landscape' | 'ownMm' | 'pageAddress'>> & {
      theme?: Partial<Theme>
    }
  }>({
    apply: (d, a) => {
      const { theme, ...rest } = a.patch
      const panel = panelOf(d, a.surfaceId)
      Object.assign(panel, rest)
      if (theme) Object.assign(panel.theme, theme)
    },
    words: (d, a) => `Panel ${surfaceOf(d, a.surfaceId).name}: ${listed(a.patch)}`,
  }),
  addPage: defineEdit<{ surfaceId: string; name: string }>({
    apply: (d, a) => {
      panelOf(d, a.surfaceId).pages.push({ name: a.name, picture: null })
    },
    words: (d, a) => `Page ${a.name} added to ${surfaceOf(d, a.surfaceId).name}`,
  }),
  setPage: defineEdit<{
    surfaceId: string
    page: number
    patch: Partial<PanelSurface['pages'][number]>
  }>({
    apply: (d, a) => {
      Object.assign(pageOf(d, a.surfaceId, a.page), a.patch)
    },
    words(d, a) {
      const picture = a.patch.picture ? 'a picture behind' : 'no picture'
      const what = 'picture' in a.patch ? picture : `named ${a.patch.name ?? ''}`
      return `Page ${pageOf(d, a.surfaceId, a.page).name} of ${surfaceOf(d, a.surfaceId).name}: ${what}`
    },
  }),
  removePage: defineEdit<{ surfaceId: string; page: number }>({
    apply: (d, a) => {
      const panel = panelOf(d, a.surfaceId)
      pageOf(d, a.surfaceId, a.page)
      if (panel.pages.length === 1) throw new EditRefused('a panel has at least one page')
      panel.pages.splice(a.page, 1)
      const without = <T extends { page: number }>(list: T[]) =>
        list
          .filter(i => i.page !== a.page)
          .map(i => (i.page > a.page ? { ...i, page: i.page - 1 } : i))
      panel.keys = without(panel.keys)
      panel.parts = without(panel.parts)
    },
    words: (d, a) =>
      `Page ${pageOf(d, a.surfaceId, a.page).name} of ${surfaceOf(d, a.surfaceId).name} removed with what stood on it`,
  }),
  placeKey: defineEdit<{ surfaceId: string; key: PanelKey }>({
    apply: (d, a) => {
      loadOf(d, a.key.loadId)
      const remote = ownKeysOf(farSurfaceOf(d, a.surfaceId))
      if (remote.kind === 'panel') remote.keys.push(a.key)
      else remote.keys.push({ loadId: a.key.loadId, form: a.key.form, asks: null })
    },
    words: (d, a) => `${loadOf(d, a.key.loadId).name} placed on ${surfaceOf(d, a.surfaceId).name}`,
  }),
  placePart: defineEdit<{ surfaceId: string; part: PanelPart }>({
    apply: (d, a) => {
      panelOf(d, a.surfaceId).parts.push(a.part)
    },
    words: (d, a) => `${partTitle(d, a.part)} placed on ${surfaceOf(d, a.surfaceId).name}`,
  }),
  moveKey: defineEdit<{
    surfaceId: string
    keyId: string
    box: Partial<Pick<PanelKey, 'page' | 'xMm' | 'yMm' | 'widthMm' | 'heightMm'>>
  }>({
    apply: (d, a) => {
      Object.assign(itemOf(d, a.surfaceId, a.keyId), a.box)
    },
    words: (d, a) =>
      `${itemTitle(d, itemOf(d, a.surfaceId, a.keyId))} on ${surfaceOf(d, a.surfaceId).name}: ${listed(a.box)}`,
  }),
  setKeyForm: defineEdit<{ surfaceId: string; keyId: string; form: PanelKey['form'] }>({
    apply: (d, a) => {
      ownKeysOf(farSurfaceOf(d, a.surfaceId))
      const key = anyKeyOf(d, a.surfaceId, a.keyId)
      key.form = a.form
      if (key.asks) key.asks = null
    },
    words: (d, a) =>
      `${loadOf(d, anyKeyOf(d, a.surfaceId, a.keyId).loadId).name} on ${surfaceOf(d, a.surfaceId).name} becomes ${KEY_FORMS[a.form].words}`,
  }),
  setItem: defineEdit<{
    surfaceId: string
    keyId: string
    patch: PatchOf<PanelItem, 'id' | 'form'>
  }>({
    apply: (d, a) => {
      const item = itemOf(d, a.surfaceId, a.keyId)
      const strange = Object.keys(a.patch).find(
        key => !(key in item) || key === 'form' || key === 'id',
      )
      if (strange) throw new EditRefused(`${itemTitle(d, item)} has no ${strange}`)
      Object.assign(item, a.patch)
    },
    words: (d, a) =>
      `${itemTitle(d, itemOf(d, a.surfaceId, a.keyId))} on ${surfaceOf(d, a.surfaceId).name}: ${listed(a.patch)}`,
  }),
  removeKey: defineEdit<{ surfaceId: string; keyId: string }>({
    apply: (d, a) => {
      const remote = farSurfaceOf(d, a.surfaceId)
      if (remote.kind === 'panel') {
        itemOf(d, a.surfaceId, a.keyId)
        remote.keys = remote.keys.filter(k => k.id !== a.keyId)
        remote.parts = remote.parts.filter(p => p.id !== a.keyId)
        return
      }
      anyKeyOf(d, a.surfaceId, a.keyId)
      dropKey(remote, a.keyId)
    },
    words: (d, a) =>
      `${farSurfaceOf(d, a.surfaceId).kind === 'panel' ? itemTitle(d, itemOf(d, a.surfaceId, a.keyId)) : loadOf(d, a.keyId).name} taken off ${surfaceOf(d, a.surfaceId).name}`,
  }),
  setLayout: defineEdit<{
    surfaceId: string
    keys: PanelKey[]
    parts: PanelPart[]
    pages: PanelSurface['pages']
  }>({
    apply: (d, a) => {
      Object.assign(panelOf(d, a.surfaceId), { keys: a.keys, parts: a.parts, pages: a.pages })
    },
    words: (d, a) =>
      `${surfaceOf(d, a.surfaceId).name} laid out: ${a.keys.length} keys and ${a.parts.length} other parts`,
  }),
}
