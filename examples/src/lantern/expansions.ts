import {
  choice,
  defineRule,
  everyone,
  flag,
  int,
  maybe,
  nobody,
  owner,
  perSeat,
  refuse,
  rowOf,
  seatRef,
  single,
  table,
} from 'zinc-referee'
import { scores, turns } from 'zinc-referee/rules'
import { market } from './market.ts'
import { boats, hooks, quay, work } from './shape.ts'

/** Fog. The extra prize of a quay is unknown until a lantern is hung there. */
export const fog = defineRule({
  name: 'fog',
  needs: [market],
  discloses: [
    {
      secret: 'fog.quays.more',
      by: 'market.rang',
      to: 'everyone',
      why: 'a prize that is paid tells what its quay pays more',
    },
  ],
  state: {
    quays: table({ quay: quay.seenBy(everyone), more: int(), lifted: flag(false).seenBy(everyone) }).seenWhen(
      {
        more: ({ lifted }) => (lifted ? everyone : nobody),
      },
    ),
  },
  setUp(match) {
    for (const each of quay.values) match.own.quays.add({ quay: each, more: match.chance('fog').int(0, 3) })
  },
  amend: {
    'market.prize'(match, prize) {
      const at = match.own.quays.all().find((each) => each.quay === prize.why)
      if (at !== undefined) prize.points.add(at.more)
    },
  },
  on: {
    'market.hung'(match, { quay: at }) {
      for (const row of match.own.quays.all()) if (row.quay === at) row.lifted = true
    },
  },
})

/**
 * Tolls. The seat that keeps the gate until its next turn stops all wishes. Each dip of another seat burns one more
 * wick and pays the keeper a point.
 */
export const tolls = defineRule({
  name: 'tolls',
  needs: [market, turns, scores],
  refusals: {
    'gate-shut': 'Another seat keeps the gate, and no wish passes. Wait until its next turn.',
  },
  state: { gate: single({ keeper: maybe(seatRef()).seenBy(everyone) }) },
  actions: {
    keep: {
      when: work,
      offered: true,
      input: {},
      decide(match, seat) {
        match.own.gate.keeper = seat
      },
    },
  },
  amend: {
    'market.wish': ({ own }, { seat }) =>
      own.gate.keeper !== undefined && own.gate.keeper !== seat ? refuse('gate-shut') : undefined,
    'market.pay'(match, cost) {
      const { keeper } = match.own.gate
      if (keeper === undefined || keeper === cost.seat) return
      cost.toll.add(1)
      cost.whenApplied((later) => {
        later.use(scores).give({ seat: keeper, amount: 1, reason: 'toll' })
      })
    },
  },
  on: {
    'turns.began'({ own }, { seat }) {
      if (own.gate.keeper === seat) own.gate.keeper = undefined
    },
  },
  calls: { keeper: (match) => match.own.gate.keeper },
})

/**
 * Moths. A moth that you let fly halves the price of your next dip. One that is still there at a bell doubles a
 * prize.
 */
export const moths = defineRule({
  name: 'moths',
  needs: [market],
  knows: [tolls],
  refusals: {
    'no-moth': 'None of your moths can fly now. Lure one first, or wait for the one in flight.',
  },
  state: {
    swarm: perSeat({ sitting: int(0).seenBy(everyone), flying: flag(false).seenBy(everyone) }),
  },
  actions: {
    /** The gate keeper's lamp draws two at once. */
    lure: {
      when: work,
      offered: true,
      input: {},
      decide(match, seat) {
        match.own.swarm.of(seat).sitting += match.use(tolls)?.keeper() === seat ? 2 : 1
      },
    },
    letFly: {
      when: work,
      cost: 0,
      offered: true,
      input: {},
      decide(match, seat) {
        const swarm = match.own.swarm.of(seat)
        if (swarm.sitting === 0 || swarm.flying) return refuse('no-moth')
        swarm.sitting -= 1
        swarm.flying = true
      },
    },
  },
  amend: {
    'market.pay'(match, cost) {
      if (!match.own.swarm.of(cost.seat).flying) return
      cost.price.times(0.5)
      cost.price.atLeast(1)
      cost.whenApplied((later) => {
        later.own.swarm.of(cost.seat).flying = false
      })
    },
    'market.prize'(match, prize) {
      if (match.own.swarm.of(prize.seat).sitting === 0) return
      prize.points.times(2)
      prize.whenApplied((later) => {
        later.own.swarm.of(prize.seat).sitting -= 1
      })
    },
  },
})

/** Night Boats. A third step: a seat with a lantern on its shelf may row it to any free hook. */
export const nightBoats = defineRule({
  name: 'night-boats',
  needs: [market, turns],
  actions: {
    row: {
      when: boats,
      offered: true,
      input: { lantern: rowOf(market, 'lanterns'), quay, hook: int().between(1, hooks.length) },
      options: (match, seat) =>
        match
          .use(market)
          .lanternsOf(seat)
          .filter(({ on }) => on === 'shelf')
          .flatMap(({ id }) =>
            quay.values.flatMap((at) => hooks.map((hook) => ({ lantern: id, quay: at, hook }))),
          ),
      decide: (match, seat, { lantern, quay: at, hook }) => match.use(market).row(seat, lantern, at, hook),
    },
  },
  on: {
    'turns.step-began'(match, { step }) {
      const seat = match.use(turns).current()
      if (step !== boats.step || seat === undefined) return
      if (
        match
          .use(market)
          .lanternsOf(seat)
          .some(({ on }) => on === 'shelf')
      )
        match.use(turns).budget({ seat, add: 1, why: 'boat' })
    },
  },
})

const mark = choice('every-quay', 'four-colours', 'full-shelf', 'one-quay')

/** Guild Marks. Each seat has a secret goal, which pays at the last bell. */
export const guildMarks = defineRule({
  name: 'guild-marks',
  needs: [market, scores],
  discloses: [
    {
      secret: 'guild-marks.marks.mark',
      by: ['guild-marks.met', 'market.rang'],
      to: 'everyone',
      why: 'a mark that is met pays at the last bell, and is shown',
    },
  ],
  state: { marks: perSeat({ mark: mark.seenBy(owner) }) },
  events: { met: { seat: seatRef().seenBy(everyone), mark: mark.seenBy(everyone) } },
  setUp(match) {
    for (const seat of match.seats) {
      const drawn = match.chance('marks').pick(mark.values)
      if (drawn !== undefined) match.own.marks.of(seat).mark = drawn
    }
  },
  on: {
    'market.rang'(match, { bell }) {
      if (bell !== 3) return
      for (const seat of match.seats) {
        const marked = match.own.marks.of(seat).mark
        const lanterns = match.use(market).lanternsOf(seat)
        const hung = (at: string) => lanterns.filter((each) => each.quay === at).length
        const isMet = {
          'every-quay': quay.values.every((at) => hung(at) > 0),
          'four-colours': new Set(lanterns.map(({ colour }) => colour)).size === 4,
          'full-shelf': lanterns.filter(({ on }) => on === 'shelf').length >= 3,
          'one-quay': quay.values.some((at) => hung(at) >= 3),
        }
        if (!isMet[marked]) continue
        match.emit('met', { seat, mark: marked })
        match.use(scores).give({ seat, amount: 5, reason: 'guild-mark' })
      }
    },
  },
})

/** Wind. Each cycle begins with the seat that has the fewest points. */
export const wind = defineRule({
  name: 'wind',
  needs: [turns, scores],
  on: {
    'turns.ended'(match) {
      const last = [...match.use(scores).standings()].reverse()
      match.use(turns).arrange(last.map(({ seat }) => seat))
    },
  },
})
