import { bell } from './bell/mode.ts'
import { brew } from './brew/mode.ts'
import type { ModeName } from './by-name.ts'
import { kettle } from './kettle/mode.ts'
import { lantern } from './lantern/mode.ts'
import type { Mode } from './mode.ts'
import { mussels } from './mussels/mode.ts'
import { pond } from './pond/mode.ts'
import { post } from './post/mode.ts'
import { regatta } from './regatta/mode.ts'
import { stones } from './stones/mode.ts'

/** The modes by name, as the command knows them. */
export const modes: { readonly [name: string]: Mode } = {
  'reed-regatta': regatta,
  'stepping-stones': stones,
  'kettle-watch': kettle,
  'pike-pond': pond,
  'bell-tide': bell,
  'spoiled-brew': brew,
  'lantern-market': lantern,
  'ebb-post': post,
  'mussel-dip': mussels,
} satisfies { readonly [N in ModeName]: Mode }

export { bellTide } from './bell/rulebook.ts'
export { spoiledBrew } from './brew/rulebook.ts'
export { deskFolder, pageFolder } from './by-name.ts'
export { kettleWatch } from './kettle/rulebook.ts'
export { lanternMarket } from './lantern/rulebook.ts'
export type { Mode } from './mode.ts'
export { musselDip } from './mussels/rulebook.ts'
export { pikePond } from './pond/rulebook.ts'
export { type Pond, PondSimulation } from './pond/simulation.ts'
export { ebbPost } from './post/rulebook.ts'
export { docks, river } from './regatta/docks.ts'
export { type Regatta } from './regatta/river.ts'
export { finds, raft, reedRegatta } from './regatta/rulebook.ts'
export { steppingStones } from './stones/rulebook.ts'
