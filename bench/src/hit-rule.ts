import {
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

/** The same rule on the engine. */
export const hitRule = defineRule({
  name: 'hits',
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
  directives: {
    hit: {
      input: { target: seatRef(), by: seatRef(), amount: int() },
      handle(match, { target, by, amount }) {
        const body = match.own.body.of(target)
        if (target === by || body.down) return refuse('no-hit')
        const now = match.time.match
        body.health -= Math.min(amount, body.health)
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
  },
})

export const hitBook = defineRulebook({ name: 'hits', seats: { min: 2, max: 8 }, rules: [hitRule] })
