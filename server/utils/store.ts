/** The one open database of this process and the vault of its secrets; routes await them. */
import { openDatabase, type Database, type Opened } from '../db/database'
import { openVault, type Vault } from '../db/vault'

export interface Store extends Opened {
  folder: string
  vault: Vault
}

let opened: Promise<Store> | null = null
/** The folder of a store that was open before. */
let lastFolder: string | null = null

export function openStore(folder: string): Promise<Store> {
  // The folder is looked at before a key is laid into it.
  opened = openDatabase(folder).then(store => ({ ...store, folder, vault: openVault(folder) }))
  return opened
}

/**
 * The store, opened anew where the database had ended by itself: what was acknowledged is in it.
 */
export async function theStore(): Promise<Store> {
  if (!opened && lastFolder === null) throw new Error('the store is not open')
  const asked = opened ?? openStore(lastFolder as string)
  const store = await asked.catch((error: unknown) => {
    // What hinders it may be gone the next time somebody asks.
    if (opened === asked && lastFolder !== null) opened = null
    throw error
  })
  lastFolder = store.folder
  if (!store.ended()) return store
  if (opened === asked) {
    console.error('The database ended by itself and is opened anew.')
    openStore(store.folder).catch(() => undefined)
  }
  return theStore()
}

export async function useStore(): Promise<Database> {
  return (await theStore()).db
}

export async function closeStore(): Promise<void> {
  const last = opened
  opened = null
  lastFolder = null
  await (await last?.catch(() => null))?.close()
}
