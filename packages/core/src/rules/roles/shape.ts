import {
  bySetting,
  choice,
  everyone,
  flag,
  int,
  map,
  only,
  owner,
  perSeat,
  seatRef,
  set,
  single,
  text,
} from '../../cells/index.ts'
import { declareRule, type MatchOf } from '../../rule/index.ts'
import { amountsOf, fields, oneOf, setting, yesNo } from '../../settings/index.ts'
import { phases } from '../phases/phases.ts'
import { roster } from '../roster/roster.ts'
import { rounds } from '../rounds.ts'
import { teams } from '../teams/teams.ts'
import type { RoleKinds } from './kinds.ts'

export const ruleOf = <K extends string>(kinds: RoleKinds<K>) => {
  const names = Object.keys(kinds) as K[]
  const settable = names.filter((role) => kinds[role].between !== undefined)
  return declareRule({
    name: 'roles',
    needs: [roster, phases],
    knows: [rounds, teams],
    settings: fields({
      /**
       * How roles are dealt. With 'fewest-before', roles with a count go to those who have had them least in this
       * match.
       */
      assign: setting(oneOf('random', 'fewest-before'), 'random'),
      /** In place of their `count`, how many seats have the roles that a match may set (`between`), by role. */
      counts: amountsOf(...settable),
      /** When roles are dealt again. */
      dealt: setting(oneOf('bout', 'round'), 'bout'),
      /** What happens to a role, other than the plain one, whose holder leaves or is sidelined. */
      whenHolderGoes: setting(oneOf('stays', 'passes-on'), 'stays'),
      /** What a player gets who joins during play: the plain role, or none before roles are dealt again. */
      lateRole: setting(oneOf('plain', 'none'), 'plain'),
      /** Who sees how many there are of each role. */
      countsSeen: setting(oneOf('everyone', 'nobody'), 'everyone'),
      /** If true, the role of a seat that is sidelined is shown to everyone. */
      revealOnOut: setting(yesNo, false),
      /** If true, the role of a seat that leaves is shown to everyone. */
      revealOnLeave: setting(yesNo, false),
      /** If true, all roles are shown when the bout is over. */
      revealAtEnd: setting(yesNo, true),
    }),
    state: {
      /** `without`: it has joined late and has no role. `knownTo`: its owner, and its camp if the role says so; nobody before it is dealt. */
      seats: perSeat({
        role: choice(...names),
        knownTo: set(seatRef()),
        revealed: flag(false),
        without: flag(false),
      }).seenWhen({
        role: ({ knownTo, revealed }) => (revealed ? everyone : only(...knownTo)),
      }),
      table: single({ counts: map(int()).seenBy(bySetting('countsSeen')) }),
      /** How often a seat has had each role. */
      had: perSeat({ times: map(int()) }).each('match'),
    },
    events: {
      /** A seat has this role. */
      assigned: { seat: seatRef().seenBy(owner), role: text().seenBy(owner) },
      /** A seat has this role now, in place of another. */
      swapped: { seat: seatRef().seenBy(owner), role: text().seenBy(owner) },
      /** Everyone knows this role from now on. */
      revealed: { seat: seatRef().seenBy(everyone), role: text().seenBy(everyone) },
    },
  })
}
export type Match<K extends string> = MatchOf<ReturnType<typeof ruleOf<K>>>
