import { beginMatch, defineRule, defineRulebook, everyone, int, perSeat } from 'zinc-referee'
import { Engine } from '../../packages/core/dist/engine/index.js'
import { figure, type Row, timed } from './measure.js'

const TIMERS = 10_000
const DRAWS = 20_000
let drawn = 0

const clockwork = defineRule({
  name: 'clockwork',
  timers: { once: { clock: 'match', fire() {} } },
  directives: {
    /** Starts, moves and cancels among many that run. */
    turn: {
      input: { from: int(), count: int() },
      handle(match, { from, count }) {
        for (let n = 0; n < count; n++) {
          const key = `k${(from + n * 7) % TIMERS}`
          if (n % 4 === 0) match.timers.cancel('once', key)
          match.timers.start('once', { key, in: 1 + ((from * 31 + n * 7919) % 600_000) })
        }
      },
    },
    draw: {
      input: {},
      handle(match) {
        const die = match.chance('die')
        for (let n = 0; n < DRAWS; n++) drawn += die.int(1, 6)
      },
    },
  },
})
const book = defineRulebook({ name: 'clockwork', seats: { min: 1, max: 2 }, rules: [clockwork] })

/** Named timers, 10,000 of them running: operations in a second, a start in place of another counted as two. */
function timers(): Row {
  const match = beginMatch(book, { seed: 'bench' })
  match.direct('clockwork.turn', { from: 0, count: TIMERS })
  let from = 1
  return figure('timers/10k', 'ops/s', { least: 1_000_000 }, () => {
    const ms = timed(() => {
      for (let n = 0; n < 100; n++) match.direct('clockwork.turn', { from: from++, count: 200 })
    })
    return ((100 * 200 * 2) / ms) * 1000
  })
}

/** A draw from a stream, in a step that can be taken back. */
function draws(): Row {
  const match = beginMatch(book, { seed: 'bench' })
  const result = figure('draw', 'ns', { most: 200 }, () => {
    const ms = timed(() => {
      match.direct('clockwork.draw', {})
    })
    return (ms * 1e6) / DRAWS
  })
  if (drawn === 0) throw new Error('nothing was drawn')
  return result
}

/** A rulebook of 20 rules with 8 cells and 5 actions each, from its definition to a match that could begin. */
function compile(): Row {
  const rules = Array.from({ length: 20 }, (_, rule) =>
    defineRule({
      name: `rule-${rule}`,
      state: {
        part: perSeat(
          Object.fromEntries(Array.from({ length: 8 }, (_each, n) => [`cell${n}`, int(n).seenBy(everyone)])),
        ),
      },
      directives: Object.fromEntries(
        Array.from({ length: 5 }, (_each, n) => [`order-${n}`, { input: { by: int() }, handle() {} }]),
      ),
    }),
  )
  return figure('compile/20', 'ms', { most: 50 }, () => {
    let begun: Engine | undefined
    const ms = timed(() => {
      const { plan } = defineRulebook({ name: 'many', seats: { min: 1, max: 8 }, rules })
      begun = new Engine(plan, new Uint8Array(32), {})
    })
    if (begun === undefined) throw new Error('nothing was compiled')
    return ms
  })
}

export const timeAndChanceRows = (): Row[] => [timers(), draws(), compile()]
