import { Engine } from '../../packages/core/dist/engine/index.js'
import { Inbox } from '../../packages/core/dist/inputs/index.js'
import { BareLoop } from './bare-loop.js'
import { hitBook } from './hit-rule.js'
import { hits, SEATS } from './hits.js'
import { type Row, ratio, timed } from './measure.js'

const HITS = hits(20_000)

/** A step of the engine with its checks, undo and dirty marks, without validating the input or recording it. */
function onEngine(): { readonly run: () => void; readonly tally: () => string } {
  const engine = new Engine(hitBook.plan, new Uint8Array(32), {})
  const inbox = new Inbox(engine)
  for (const seat of SEATS) inbox.direct('roster.join', { seat, name: seat }, undefined)
  const plan = hitBook.plan.inputs.get('hits.hit')
  if (plan?.kind !== 'directive') throw new Error('the rulebook has no hit')
  return {
    run() {
      for (const hit of HITS) {
        inbox.advanceTo(hit.at)
        engine.perform('hit', plan.handler, hit, undefined)
      }
    },
    tally() {
      const body = (
        engine.handles(hitBook.plan.rules.findIndex(({ name }) => name === 'hits')) as {
          body: { of(seat: string): Record<string, unknown> }
        }
      ).body
      return JSON.stringify(
        SEATS.map((seat) => [
          seat,
          ...['kills', 'assists', 'downs', 'health'].map((cell) => body.of(seat)[cell]),
        ]),
      )
    },
  }
}

export function applyRow(): Row {
  const [check, bare] = [onEngine(), new BareLoop()]
  check.run()
  for (const hit of HITS) bare.hit(hit)
  if (check.tally() !== bare.tally())
    throw new Error(`the variants differ:\n${check.tally()}\n${bare.tally()}`)
  return ratio(
    'apply/bare',
    { most: 2.5 },
    () => {
      const ours = onEngine()
      return timed(ours.run)
    },
    () => {
      const loop = new BareLoop()
      return timed(() => {
        for (const hit of HITS) loop.hit(hit)
      })
    },
  )
}
