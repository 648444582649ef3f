import {
  amount,
  beginMatch,
  defineRule,
  defineRulebook,
  everyone,
  flag,
  int,
  maybe,
  perSeat,
  refuse,
  seatRef,
} from 'zinc-referee'
import { BareLoop } from './bare-loop.js'
import { type Hit, hits, SEATS } from './hits.js'
import { type Row, ratio, timed } from './measure.js'

const HITS = hits(20_000)
const TIMES = HITS.map(({ at }) => at)
type Blow = Omit<Hit, 'at'>
const REPORTED = HITS.map(({ target, by, amount: taken }) => ({ target, by, amount: taken }))

/** The hit rule as a mode would have it: a fact that is decided as a draft, which another rule may amend. */
const blows = defineRule({
  name: 'blows',
  state: {
    body: perSeat({
      health: int(100).seenBy(everyone),
      down: flag(false).seenBy(everyone),
      kills: int(0).seenBy(everyone),
      assists: int(0).seenBy(everyone),
      downs: int(0).seenBy(everyone),
      lastBy: maybe(seatRef()),
      otherBy: maybe(seatRef()),
      otherAt: int(0),
      lastAt: int(0),
    }),
  },
  drafts: { blow: { target: seatRef(), by: seatRef(), amount: amount() } },
  timers: {
    back: {
      clock: 'match',
      fire(match, seat) {
        const body = match.own.body.of(seat)
        body.down = false
        body.health = 100
        body.lastBy = undefined
        body.otherBy = undefined
      },
    },
  },
  apply: {
    blow(match, { target, by, amount: taken }) {
      const body = match.own.body.of(target)
      if (target === by || body.down) return refuse('no-hit')
      const now = match.time.match
      body.health -= Math.min(taken, body.health)
      if (body.lastBy !== by) {
        body.otherBy = body.lastBy
        body.otherAt = body.lastAt
      }
      body.lastBy = by
      body.lastAt = now
      if (body.health > 0) return
      body.down = true
      body.downs += 1
      match.own.body.of(by).kills += 1
      const other = body.otherBy
      if (other !== undefined && now - body.otherAt < 10_000) match.own.body.of(other).assists += 1
      match.timers.start('back', { in: 3000, key: target })
    },
  },
  facts: {
    hit: {
      input: { target: seatRef(), by: seatRef(), amount: int() },
      handle: (match, { target, by, amount: taken }) => match.resolve('blow', { target, by, amount: taken }),
    },
  },
})

/** A prow of bronze doubles a blow; nobody has one, so that the outcome is that of the bare loop. */
const prow = defineRule({
  name: 'prow',
  needs: [blows],
  state: { prow: perSeat({ bronze: flag(false) }) },
  amend: {
    'blows.blow'(match, draft) {
      if (match.own.prow.of(draft.by).bronze) draft.amount.times(2)
    },
  },
})

const book = defineRulebook({ name: 'blows', seats: { min: 2, max: 8 }, rules: [blows, prow] })

/** A match in live play whose seats view it, and what will be reported to it. */
export function hitMatch() {
  const match = beginMatch(book, { seed: 'bench' })
  for (const seat of SEATS) match.direct('roster.join', { seat, name: seat })
  match.direct('phases.start', {})
  match.advanceTo(match.nextDue ?? 0)
  for (const seat of SEATS) match.addViewer(seat)
  match.flush()
  return { match, hits: REPORTED, times: TIMES }
}

function reporting() {
  const { match } = hitMatch()
  const began = match.now
  return {
    run() {
      // The time stands apart, so that both loops read one object for each hit.
      for (let n = 0; n < REPORTED.length; n++) {
        match.advanceTo(began + (TIMES[n] as number))
        match.report('blows.hit', REPORTED[n] as Blow)
      }
    },
    tally: () =>
      JSON.stringify(
        SEATS.map((seat) => {
          const { kills, assists, downs, health } = match.state.blows.body.of(seat)
          return [seat, kills, assists, downs, health]
        }),
      ),
  }
}

/** The whole report, with validation, amendments and ruling, against the bare loop. */
export function reportRow(): Row {
  const [check, bare] = [reporting(), new BareLoop()]
  check.run()
  for (const hit of HITS) bare.hit(hit)
  if (check.tally() !== bare.tally())
    throw new Error(`the variants differ:\n${check.tally()}\n${bare.tally()}`)
  return ratio(
    'report/bare',
    { most: 5 },
    () => timed(reporting().run),
    () => {
      const loop = new BareLoop()
      return timed(() => {
        for (const hit of HITS) loop.hit(hit)
      })
    },
  )
}
