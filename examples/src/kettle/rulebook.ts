import {
  declareRule,
  defineRulebook,
  everyone,
  int,
  type MatchOf,
  refuse,
  type Seat,
  seatRef,
  seconds,
} from 'zinc-referee'
import { holds, lastStanding, phases, respawn, roster, verdict, vitals, whileUp } from 'zinc-referee/rules'
import { fields, must, setting, whole } from 'zinc-referee/settings'

const shape = declareRule({
  name: 'kettle',
  needs: [holds, phases, respawn, roster, vitals],
  settings: fields({
    /** The kettle boils over at a random time between these two, in ms. Nobody knows when. */
    soonest: setting(whole({ min: 1 }), seconds(8)),
    latest: setting(whole({ min: 1 }), seconds(20)),
    /** Number of places round the fire that a paw reaches. */
    reach: setting(whole({ min: 1 }), 2),
  }).check(must(({ soonest, latest }) => soonest <= latest, "'soonest' must not be after 'latest'")),
  events: {
    served: { seat: seatRef().seenBy(everyone) },
    boiled: { seat: seatRef().seenBy(everyone), held: int().seenBy(everyone) },
  },
  timers: ['boil', 'serve'],
})
type Match = MatchOf<typeof shape>

/** The other seats sit in a ring by seat number. A seat that is out leaves no gap. */
function near(match: Match, seat: Seat): Seat[] {
  const ring = match.use(roster).inPlay()
  const at = ring.indexOf(seat)
  const { reach } = match.settings
  return ring.filter((other, place) => {
    const apart = Math.abs(place - at)
    return other !== seat && Math.min(apart, ring.length - apart) <= reach
  })
}

function serve(match: Match) {
  const up = match
    .use(roster)
    .inPlay()
    .filter((seat) => match.use(vitals).isUp(seat))
  const seat = match.chance('serve').pick(up)
  if (seat === undefined) return
  match.use(holds).take(seat, 'kettle')
  match.timers.start('boil', { in: match.chance('fire').int(match.settings.soonest, match.settings.latest) })
  match.emit('served', { seat })
}

function boilOver(match: Match) {
  const seat = match.use(holds).holder('kettle')
  if (seat !== undefined) {
    match.emit('boiled', { seat, held: match.use(holds).total(seat, 'kettle') })
    match.use(vitals).hurt({ target: seat, amount: match.use(vitals).health(seat), kind: 'scald' })
  }
  match.timers.start('serve', { in: seconds(2) })
}

/** A kettle goes round the fire. The seat that holds it when it boils over loses a life. */
export const kettle = shape.does({
  refusals: {
    'too-far': 'That paw is too far round the fire. Hand the kettle to a neighbour.',
  },
  actions: {
    pass: {
      when: whileUp,
      offered: true,
      input: { to: seatRef() },
      options: (match, seat) => near(match, seat).map((to) => ({ to })),
      decide(match, seat, { to }) {
        if (!near(match, seat).includes(to)) return refuse('too-far', { to })
        return match.use(holds).pass({ thing: 'kettle', from: seat, to })
      },
    },
  },
  timers: { boil: (match) => boilOver(match), serve: (match) => serve(match) },
  on: { 'phases.live-began': (match) => serve(match) },
})

/** Three to eight seats, each with three lives. The last seat with lives wins. */
export const hotKettle = defineRulebook({
  name: 'hot-kettle',
  seats: { min: 3, max: 8 },
  rules: [
    vitals({ max: 1 }),
    respawn({ lives: 3, after: seconds(1), protectFor: 0 }),
    holds({ things: ['kettle'], passLock: seconds(1), onLeave: 'random' }),
    verdict({ when: [lastStanding] }),
    kettle,
  ],
})
