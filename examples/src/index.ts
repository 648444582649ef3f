import type { AnyRulebook } from 'zinc-referee'
import type { Demo } from 'zinc-referee/testing'
import { bellDemo } from './bell/demo.ts'
import { bellTide } from './bell/rulebook.ts'
import { brewDemo } from './brew/demo.ts'
import { spoiledBrew } from './brew/rulebook.ts'
import { kettleDemo } from './kettle/demo.ts'
import { kettleWatch } from './kettle/rulebook.ts'
import { lanternDemo } from './lantern/demo.ts'
import { lanternMarket } from './lantern/rulebook.ts'
import { musselsDemo } from './mussels/demo.ts'
import { musselDip } from './mussels/rulebook.ts'
import { pondDemo } from './pond/demo.ts'
import { pikePond } from './pond/rulebook.ts'
import { postDemo } from './post/demo.ts'
import { ebbPost } from './post/rulebook.ts'
import { regattaDemo } from './regatta/demo.ts'
import { reedRegatta } from './regatta/rulebook.ts'
import { stonesDemo } from './stones/demo.ts'
import { steppingStones } from './stones/rulebook.ts'

/** A mode of the Fenwick Fair: its rulebook and its demo. */
export interface Mode {
  readonly title: string
  readonly rulebook: AnyRulebook
  readonly demo: Demo
}

/** The modes by name, as the command knows them. */
export const modes: { readonly [name: string]: Mode } = {
  'reed-regatta': { title: 'Reed Regatta', rulebook: reedRegatta, demo: regattaDemo },
  'stepping-stones': { title: 'Stepping Stones', rulebook: steppingStones, demo: stonesDemo },
  'kettle-watch': { title: 'Kettle Watch', rulebook: kettleWatch, demo: kettleDemo },
  'pike-pond': { title: 'Pike Pond', rulebook: pikePond, demo: pondDemo },
  'bell-tide': { title: 'Bell Tide', rulebook: bellTide, demo: bellDemo },
  'spoiled-brew': { title: 'Spoiled Brew', rulebook: spoiledBrew, demo: brewDemo },
  'lantern-market': { title: 'Lantern Market', rulebook: lanternMarket, demo: lanternDemo },
  'ebb-post': { title: 'Ebb Post', rulebook: ebbPost, demo: postDemo },
  'mussel-dip': { title: 'Mussel Dip', rulebook: musselDip, demo: musselsDemo },
}

/** The folder of the built page. */
export const pageFolder: URL = new URL('./page/', import.meta.url)
/** The folder of the built page that looks back at a record. */
export const deskFolder: URL = new URL('./desk/', import.meta.url)

export { bellTide } from './bell/rulebook.ts'
export { spoiledBrew } from './brew/rulebook.ts'
export { kettleWatch } from './kettle/rulebook.ts'
export { lanternMarket } from './lantern/rulebook.ts'
export { musselDip } from './mussels/rulebook.ts'
export { pikePond } from './pond/rulebook.ts'
export { type Pond, PondSimulation } from './pond/simulation.ts'
export { ebbPost } from './post/rulebook.ts'
export { docks, river } from './regatta/docks.ts'
export { type Regatta } from './regatta/river.ts'
export { finds, raft, reedRegatta } from './regatta/rulebook.ts'
export { steppingStones } from './stones/rulebook.ts'
