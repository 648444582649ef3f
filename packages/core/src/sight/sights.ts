import { type Audience, allViewers, noViewers, type Sight } from '../state/index.ts'

/** Every viewer, spectators too. */
export const everyone: Sight<'everyone'> & Audience = { reach: 'everyone', ...allViewers }
/** The seat whose row it is, and nobody else. In an event: its cell named `seat`. */
export const owner: Sight<'owner'> = { reach: 'owner' }
/** Nobody: what a cell has when nothing is said. */
export const nobody: Sight<'nobody'> & Audience = { reach: 'nobody', ...noViewers }
/** Left to the rulebook: the named setting of the rule is 'everyone', 'owner' or 'nobody'. A match cannot change it. */
export const bySetting = (setting: string): Sight<'some'> => ({ reach: 'some', setting })
