import {
  declareRule,
  defineRulebook,
  everyone,
  flag,
  int,
  list,
  type MatchOf,
  maybe,
  only,
  refuse,
  type Seat,
  seatRef,
  seconds,
  single,
  table,
  text,
} from 'zinc-referee'
import { type Edge, gridOf, reach, rounds, type Spot, turnStep, turns, verdict } from 'zinc-referee/rules'
import { areBeside, called, floating, water } from './water.ts'

const EACH = 3 // lilies in secret for each seat
const pond = gridOf('pond', { ...water, neighbours: 8 })
const lay = turnStep('lay')
const banks: readonly Edge[] = ['west', 'east', 'north', 'south']

const shape = declareRule({
  name: 'stones',
  needs: [pond, turns, verdict],
  state: {
    /** `of`: who has to join it, known to that seat alone until the end. */
    lilies: table({
      x: int().seenBy(everyone),
      y: int().seenBy(everyone),
      of: maybe(seatRef()),
      shown: flag(false),
    }).seenWhen({ of: ({ of, shown }) => (shown ? everyone : only(of)) }),
    /** Where a stone was laid last. */
    last: single({ spot: text('').seenBy(everyone) }),
  },
  events: {
    laid: { seat: seatRef().seenBy(everyone), spot: text().seenBy(everyone) },
    stuck: { seat: seatRef().seenBy(everyone) },
    /** A seat has joined its lilies and shows them. */
    shown: { seat: seatRef().seenBy(everyone), lilies: list(text()).seenBy(everyone) },
    /** What a seat's best line comes to when nobody can lay any more. */
    counted: {
      seat: seatRef().seenBy(everyone),
      joined: int().seenBy(everyone),
      length: int().seenBy(everyone),
    },
  },
  notices: {
    laid: { says: '{seat} lays a stone on {spot}.' },
    stuck: { says: '{seat} cannot lay, and passes.' },
    shown: { says: '{seat} shows three lilies on one line: {lilies}.' },
    counted: { says: '{seat}: lilies on one line {joined}, its stones {length}.' },
  },
})
type Match = MatchOf<typeof shape>

/** The unbroken lines of a seat's stones, by sides. */
function linesOf(match: Match, seat: Seat): Spot[][] {
  let left: readonly Spot[] = match.use(pond).held(seat)
  const lines: Spot[][] = []
  for (let [first] = left; first !== undefined; [first] = left) {
    const line = reach([first], left, water)
    lines.push(line)
    left = left.filter((spot) => !line.includes(spot))
  }
  return lines
}

/** The line that joins most of a seat's lilies; of several, the shortest. */
function bestOf(match: Match, seat: Seat): { readonly joined: number; readonly length: number } {
  const lilies = match.own.lilies.where({ of: seat })
  const lines = linesOf(match, seat).map((line) => ({
    joined: lilies.filter((lily) => line.some((spot) => areBeside(spot, lily))).length,
    length: line.length,
  }))
  const [best = { joined: 0, length: 0 }] = lines.sort((a, b) => b.joined - a.joined || a.length - b.length)
  return best
}

/** A stone touches the bank, or one of its seat's stones, by a side or a corner. */
const touches = (match: Match, seat: Seat, spot: Spot): boolean =>
  banks.some((bank) => match.use(pond).isOn(spot, bank)) ||
  match
    .use(pond)
    .around(spot)
    .some(({ holder }) => holder === seat)

export const stones = shape.does({
  refusals: {
    'touches-nothing': 'A stone must touch the bank or one of your stones. Choose another cell.',
  },
  discloses: [
    {
      secret: 'stones.lilies.of',
      by: 'stones.shown',
      to: 'everyone',
      why: 'who has joined its lilies shows them',
    },
    {
      secret: 'stones.lilies.of',
      by: 'verdict.reached',
      to: 'everyone',
      why: 'at the end all lilies are shown',
    },
    {
      secret: 'stones.lilies.of',
      by: 'stones.counted',
      to: 'everyone',
      why: 'the lilies on the best lines decide who wins',
    },
  ],
  setUp(match) {
    const dealt = match.chance('lilies').shuffle(floating)
    for (const spot of floating) {
      const of = match.seats[Math.floor(dealt.indexOf(spot) / EACH)]
      match.own.lilies.add({ ...spot, of })
      match.use(pond).lock(spot)
    }
  },
  actions: {
    lay: {
      when: lay,
      offered: true,
      input: { x: int(), y: int() },
      options: (match) => match.use(pond).free(),
      decide(match, seat, spot) {
        if (!touches(match, seat, spot)) return refuse('touches-nothing')
        return match.use(pond).place({ seat, ...spot })
      },
    },
  },
  on: {
    /** Who has all of its lilies on one line shows them and wins. */
    'pond.placed'(match, { seat, x, y }) {
      const spot = called({ x, y })
      match.own.last.spot = spot
      match.emit('laid', { seat, spot })
      if (bestOf(match, seat).joined < EACH) return
      match.emit('shown', { seat, lilies: match.own.lilies.where({ of: seat }).map(called) })
      match.use(verdict).claim({ winners: [seat], reason: 'lilies-joined' })
    },
    'turns.ended'(match, { seat, why }) {
      if (seat !== undefined && why === 'stuck') match.emit('stuck', { seat })
    },
    /** Who cannot lay passes. When both do, more lilies on one line win, then the shorter such line. */
    'turns.all-passed'(match) {
      const ranked = match.seats.map((seat) => ({ seat, ...bestOf(match, seat) }))
      ranked.sort((a, b) => b.joined - a.joined || a.length - b.length)
      for (const counted of ranked) match.emit('counted', counted)
      const [best] = ranked
      const winners = ranked.filter(({ joined, length }) => joined === best?.joined && length === best.length)
      match.use(verdict).claim({ winners: winners.map(({ seat }) => seat), reason: 'more-lilies' })
    },
    'verdict.reached'(match) {
      for (const lily of match.own.lilies.all()) lily.shown = true
    },
  },
})

/** Two seats lay stones in a pond of six by six, in turn, to join secret lilies. The other seat starts the next bout. */
export const steppingStones = defineRulebook({
  name: 'stepping-stones',
  seats: { min: 2, max: 2 },
  rules: [
    rounds,
    turns({ steps: [lay], passing: 'never', turnTime: seconds(30) }),
    verdict({}),
    pond,
    stones,
  ],
})
