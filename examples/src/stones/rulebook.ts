import {
  choice,
  declareRule,
  defineRulebook,
  everyone,
  int,
  type MatchOf,
  perSeat,
  refuse,
  seconds,
} from 'zinc-referee'
import { gridOf, rounds, type Spot, turnStep, turns, verdict } from 'zinc-referee/rules'

const pond = gridOf('pond', { width: 5, height: 5, neighbours: 8 })
const lay = turnStep('lay')

const shape = declareRule({
  name: 'stones',
  needs: [pond, turns, verdict],
  // The two banks that a seat has to join.
  state: {
    banks: perSeat({
      from: choice('west', 'north').seenBy(everyone),
      to: choice('east', 'south').seenBy(everyone),
    }),
  },
})

/** A stone must touch your own bank or one of your stones, by a side or a corner. */
function touches(match: MatchOf<typeof shape>, seat: string, spot: Spot) {
  const { from, to } = match.own.banks.of(seat)
  return (
    match.use(pond).isOn(spot, from) ||
    match.use(pond).isOn(spot, to) ||
    match
      .use(pond)
      .around(spot)
      .some((cell) => cell.holder === seat)
  )
}

export const stones = shape.does({
  refusals: {
    'touches-nothing': 'A stone must touch your bank or one of your stones. Choose another cell.',
  },
  setUp(match) {
    const [, second] = match.seats // the first has west and east
    if (second === undefined) return
    match.own.banks.of(second).from = 'north'
    match.own.banks.of(second).to = 'south'
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
    /** The first seat to join its two banks by an unbroken line wins. */
    'pond.placed'(match, { seat }) {
      const { from, to } = match.own.banks.of(seat)
      if (match.use(pond).joins(seat, from, to))
        match.use(verdict).claim({ winners: [seat], reason: 'banks-joined' })
    },
    /** A seat that can't lay passes. When both pass, more stones win. */
    'turns.all-passed'(match) {
      const count = (seat: string) => match.use(pond).held(seat).length
      const most = Math.max(...match.seats.map(count))
      match
        .use(verdict)
        .claim({ winners: match.seats.filter((seat) => count(seat) === most), reason: 'more-stones' })
    },
  },
})

/** Two seats lay stones in a pond of five by five, in turn. The other seat starts the next bout. */
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
