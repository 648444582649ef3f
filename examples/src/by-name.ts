import type { Mode } from './mode.ts'

const loads = {
  'reed-regatta': async () => (await import('./regatta/mode.ts')).regatta,
  'stepping-stones': async () => (await import('./stones/mode.ts')).stones,
  'kettle-watch': async () => (await import('./kettle/mode.ts')).kettle,
  'pike-pond': async () => (await import('./pond/mode.ts')).pond,
  'bell-tide': async () => (await import('./bell/mode.ts')).bell,
  'spoiled-brew': async () => (await import('./brew/mode.ts')).brew,
  'lantern-market': async () => (await import('./lantern/mode.ts')).lantern,
  'ebb-post': async () => (await import('./post/mode.ts')).post,
  'mussel-dip': async () => (await import('./mussels/mode.ts')).mussels,
}
export type ModeName = keyof typeof loads
/** The modes by name. Each is loaded when it is asked for: to define all of their rulebooks takes half a second. */
export const modesByName: { readonly [name: string]: () => Promise<Mode> } = loads

/** The folder of the built page. */
export const pageFolder: URL = new URL('./page/', import.meta.url)
/** The folder of the built page that looks back at a record. */
export const deskFolder: URL = new URL('./desk/', import.meta.url)
