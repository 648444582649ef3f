import { z } from 'zod'
import {
  bySetting,
  choice,
  everyone,
  flag,
  group,
  int,
  map,
  only,
  owner,
  perSeat,
  type Seat,
  type Sight,
  seatRef,
  set,
  single,
  text,
} from '../../cells/index.ts'
import { declareRule, type Gate, type MatchOf, refuse } from '../../rule/index.ts'
import { phases } from '../phases.ts'
import { roster } from '../roster/roster.ts'
import { rounds } from '../rounds.ts'
import type { Camp } from './camp.ts'
import { dealt, fits } from './deal.ts'
import { assertKinds, plainOf, type RoleKinds, tableFor } from './kinds.ts'

const ruleOf = <K extends string>(kinds: RoleKinds<K>) => {
  const names = Object.keys(kinds) as K[]
  return declareRule({
    name: 'roles',
    needs: [roster, phases],
    knows: [rounds],
    settings: z.object({
      /** With 'fewest-before' roles with a count go to those who had them least in this match. */
      assign: z.enum(['random', 'fewest-before']).default('random'),
      /** When roles are dealt again. */
      dealt: z.enum(['bout', 'round']).default('bout'),
      /** Whether everyone is shown how many there are of each role. */
      countsSeen: z.enum(['everyone', 'nobody']).default('everyone'),
      revealOnOut: z.boolean().default(false),
      revealOnLeave: z.boolean().default(false),
      revealAtEnd: z.boolean().default(true),
    }),
    state: {
      /** `knownTo`: its owner, and its camp where the role says so; nobody before it is dealt. */
      seats: perSeat({ role: choice(...names), knownTo: set(seatRef()), revealed: flag(false) }).seenWhen({
        role: ({ knownTo, revealed }) => (revealed ? everyone : only(...knownTo)),
      }),
      table: single({ counts: map(int()).seenBy(bySetting('countsSeen')) }),
      /** How often a seat has had each role. */
      had: perSeat({ times: map(int()) }).each('match'),
    },
    events: {
      assigned: { seat: seatRef().seenBy(owner), role: text().seenBy(owner) },
      swapped: { seat: seatRef().seenBy(owner), role: text().seenBy(owner) },
      revealed: { seat: seatRef().seenBy(everyone), role: text().seenBy(everyone) },
    },
  })
}
type Match<K extends string> = MatchOf<ReturnType<typeof ruleOf<K>>>

/**
 * Secret roles, dealt at random when a bout begins; each is known to its owner, and to its camp where it says so.
 *
 * @throws ZR_SETTING_INVALID for counts and weights that cannot be, or more than one plain role
 */
export const rolesOf = <const K extends string, const C extends string = K>(kinds: RoleKinds<K, C>) => {
  assertKinds(kinds)
  const campOf = (role: K): string => kinds[role].camp ?? role
  const roleOf = (match: Match<K>, seat: Seat): K => match.own.seats.of(seat).role

  /** Who knows a role follows who is in its camp now. */
  function tell(match: Match<K>) {
    const all = match.seating.all
    for (const seat of all) {
      const role = roleOf(match, seat)
      const mates = kinds[role].tellCamp
        ? all.filter((other) => campOf(roleOf(match, other)) === campOf(role))
        : [seat]
      const row = match.own.seats.of(seat)
      if (mates.length !== row.knownTo.size || mates.some((mate) => !row.knownTo.has(mate)))
        row.knownTo = new Set(mates)
    }
  }

  function give(match: Match<K>, seat: Seat, role: K) {
    match.own.seats.of(seat).role = role
    const had = match.own.had.of(seat)
    had.times = new Map(had.times).set(role, (had.times.get(role) ?? 0) + 1)
  }

  function deal(match: Match<K>) {
    const had = (seat: Seat, role: K): number => match.own.had.of(seat).times.get(role) ?? 0
    const fair = match.settings.assign === 'fewest-before' ? had : undefined
    const roles = dealt(kinds, match.seats, match.chance('roles'), fair)
    for (const seat of match.seats) {
      const role = roles.get(seat)
      if (role === undefined) continue
      give(match, seat, role)
      match.own.seats.of(seat).revealed = false
      match.emit('assigned', { seat, role })
    }
    const counts = new Map<string, number>()
    for (const role of roles.values()) counts.set(role, (counts.get(role) ?? 0) + 1)
    // In the order of the roles, not of the seats: an order would tell who drew what.
    match.own.table.counts = new Map(
      Object.keys(kinds).flatMap((role) => (counts.has(role) ? [[role, counts.get(role) ?? 0]] : [])),
    )
    tell(match)
  }

  /** A late joiner is plain, so that the counts tell nothing. */
  function welcome(match: Match<K>, seat: Seat) {
    if (match.use(phases).phase() === 'lobby' || match.use(phases).phase() === 'countdown') return
    const [first] = Object.keys(kinds) as K[]
    const role = plainOf(kinds) ?? first
    if (role === undefined) return
    give(match, seat, role)
    match.emit('assigned', { seat, role })
    tell(match)
  }

  function reveal(match: Match<K>, seat: Seat) {
    const row = match.own.seats.of(seat)
    if (row.revealed) return
    row.revealed = true
    match.emit('revealed', { seat, role: row.role })
  }

  const badCounts = (seats: number) =>
    refuse('bad-counts', { seats, roles: tableFor(kinds, seats).special.length })

  const rule = ruleOf(kinds).does({
    discloses: [
      {
        secret: 'roles.seats.role',
        by: 'roles.swapped',
        to: 'seat',
        why: 'who is swapped has the role that the other had',
      },
    ],
    setUp: deal,
    groups: Object.fromEntries(
      (Object.keys(kinds) as K[]).map((role) => [
        role,
        (match) =>
          match.seats.filter((seat) => {
            const row = match.own.seats.of(seat)
            return row.role === role && row.knownTo.has(seat)
          }),
      ]),
    ),
    gates: {
      only: {
        place: 'role',
        check(match, { seat, given }) {
          if (seat !== undefined && !given.includes(roleOf(match, seat))) return refuse('not-yours')
        },
      },
    },
    amend: {
      'phases.start'(match) {
        const seats = match.seats.length
        return fits(kinds, seats) ? undefined : badCounts(seats)
      },
    },
    settle: {
      wokenBy: ['roster.seats'],
      run(match) {
        if (match.use(phases).phase() === 'countdown' && !fits(kinds, match.seats.length))
          match.use(phases).cancelStart('bad-counts')
      },
    },
    on: {
      'roster.joined': (match, { seat }) => welcome(match, seat),
      'rounds.began'(match, { round }) {
        if (match.settings.dealt === 'round' && round > 1) deal(match)
      },
      'roster.sidelined'(match, { seat }) {
        if (match.settings.revealOnOut) reveal(match, seat)
      },
      'roster.left'(match, { seat }) {
        if (match.settings.revealOnLeave) reveal(match, seat)
      },
      'phases.changed'(match, { to }) {
        if (to === 'over' && match.settings.revealAtEnd)
          for (const seat of match.seating.all) reveal(match, seat)
      },
    },
    calls: {
      of: roleOf,
      campOf: (match, seat: Seat): string => campOf(roleOf(match, seat)),
      /** All of a camp that have not left, by seat number; they may be out. */
      camp: (match, { camp }: Camp): readonly Seat[] =>
        match.seats.filter((seat) => campOf(roleOf(match, seat)) === camp),
      /** Two seats change roles, and each is shown its new one; nobody else notices. */
      swap(match, one: Seat, other: Seat) {
        const [role, others] = [roleOf(match, one), roleOf(match, other)]
        for (const [seat, now] of [
          [one, others],
          [other, role],
        ] as const) {
          give(match, seat, now)
          match.emit('swapped', { seat, role: now })
        }
        tell(match)
      },
      /** From now on everyone knows it. */
      reveal,
      /** Deals all roles again. */
      deal,
    },
  })
  return Object.assign(rule, {
    /** A side of roles, for conditions such as `parity`. */
    camp: (camp: K | C): Camp => ({ camp }),
    /** Who has this role, as those who see a cell, a timer or an event. */
    holders: (role: K): Sight<'some'> => group({ name: 'roles' }, role),
    /** An action for these roles; to others it does not exist. */
    only: (...roles: readonly K[]): Gate => ({ gate: 'roles.only', given: roles }),
  })
}

/** The handle by which the verdict knows of roles, whatever they are. */
export const anyRoles = rolesOf({ player: {} })
