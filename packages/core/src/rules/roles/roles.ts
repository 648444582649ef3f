import { group, type Seat, type Sight } from '../../cells/index.ts'
import { type Gate, gate, refuse } from '../../rule/index.ts'
import { LATE } from '../roster/joining-and-leaving.ts'
import { rounds } from '../rounds.ts'
import type { Camp } from './camp.ts'
import {
  campOf,
  cancelBadCounts,
  deal,
  hasRole,
  passOn,
  refuseBadCounts,
  reveal,
  revealAll,
  roleOf,
  swap,
  welcome,
} from './dealing.ts'
import { assertKinds, type RoleKinds } from './kinds.ts'
import { type Match, ruleOf } from './shape.ts'

/** What it refuses with. */
const refusals = {
  'not-yours': 'This is not for your seat to do. Choose one of your options.',
  'bad-counts': 'The roles do not fit this number of seats. Let others join, or leave.',
}

/** Returns who has a role and knows that it has it. */
const holdersOf = <K extends string>(match: Pick<Match<K>, 'seats' | 'own'>, role: K): Seat[] =>
  match.seats.filter((seat) => {
    const row = match.own.seats.of(seat)
    return row.role === role && row.knownTo.has(seat)
  })

/**
 * Secret roles, dealt at random when a bout begins. Each is known to its owner, and to its camp if it says so.
 *
 * @throws ZR_SETTING_INVALID for counts and weights that are impossible, or more than one plain role
 */
export const rolesOf = <const K extends string, const C extends string = K>(kinds: RoleKinds<K, C>) => {
  assertKinds(kinds)
  const isByTeam = (Object.keys(kinds) as K[]).some((role) => kinds[role].perTeam !== undefined)
  const rule = ruleOf(kinds).does({
    refusals,
    discloses: [
      {
        secret: 'roles.seats.role',
        by: ['roles.swapped', 'roles.assigned', 'roster.left', 'roster.sidelined'],
        to: 'seat',
        why: 'who gets a role knows where it was, and who goes out sees whether it was passed on',
      },
    ],
    groups: Object.fromEntries(
      (Object.keys(kinds) as K[]).map((role) => [role, (match) => holdersOf(match, role)]),
    ),
    gates: {
      only: {
        place: 'role',
        check: (match, { seat, given }) =>
          seat === undefined || (hasRole(match, seat) && given.includes(roleOf(match, seat)))
            ? undefined
            : refuse('not-yours'),
      },
    },
    // Teams may still change until play begins.
    setUp(match) {
      if (!isByTeam) deal(match, kinds)
    },
    amend: { 'phases.start': (match) => refuseBadCounts(match, kinds) },
    on: {
      'roster.joined': (match, { seat }) => welcome(match, kinds, seat),
      'phases.live-began'(match) {
        if (isByTeam && match.use(rounds) === undefined) deal(match, kinds)
      },
      'rounds.began'(match, { round }) {
        if (round === 1 ? isByTeam : match.settings.dealt === 'round') deal(match, kinds)
      },
      'roster.sidelined'(match, { seat, why }) {
        // Who has joined late watches for now, and is in play later.
        if (why === LATE) return
        if (match.settings.revealOnOut) reveal(match, seat)
        if (match.settings.whenHolderGoes === 'passes-on') passOn(match, kinds, seat)
      },
      'roster.left'(match, { seat }) {
        if (match.settings.revealOnLeave) reveal(match, seat)
        if (match.settings.whenHolderGoes === 'passes-on') passOn(match, kinds, seat)
      },
      'phases.changed'(match, { to }) {
        if (to === 'over' && match.settings.revealAtEnd) revealAll(match)
      },
    },
    /** A countdown is cancelled if the new counts do not fit its seats. */
    changed(match, rule) {
      if (rule === 'roles') cancelBadCounts(match, kinds)
    },
    settle: { wokenBy: ['roster.seats'], run: (match) => cancelBadCounts(match, kinds) },
    calls: {
      /** True if a seat has a role: false for who has joined late with `lateRole: 'none'`. */
      has: hasRole,
      /** Returns a seat's role. For a seat without one it says nothing: see `has`. */
      of: roleOf,
      /** Returns the camp of a seat. */
      campOf: (match, seat: Seat): string => campOf(kinds, roleOf(match, seat)),
      /** Returns all of a camp that have not left, by seat number, including sidelined ones. */
      camp: (match, { camp }: Camp): readonly Seat[] =>
        match.seats.filter((seat) => hasRole(match, seat) && campOf(kinds, roleOf(match, seat)) === camp),
      /** Two seats exchange roles, and each is shown its new one. Nobody else notices. */
      swap: (match, one: Seat, other: Seat) => swap(match, kinds, one, other),
      /** Shows the role to everyone from now on. */
      reveal,
      /** Deals all roles again. */
      deal: (match) => deal(match, kinds),
    },
  })
  return Object.assign(rule, {
    /** A side of roles, for conditions such as `parity`. */
    camp: (camp: K | C): Camp => ({ camp }),
    /** Whoever has this role, as an audience for a cell, a timer or an event. */
    holders: (role: K): Sight<'some'> => group({ name: 'roles' }, role),
    /** An action for these roles only. For others it does not exist. */
    only: (...roles: readonly K[]): Gate => gate({ name: 'roles' }, 'only', ...roles),
  })
}

/** How the verdict refers to roles, whatever they are. */
export const anyRoles = rolesOf({ player: {} })
