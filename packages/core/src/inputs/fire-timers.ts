import type { Engine } from '../engine/index.ts'
import { RefereeError } from '../kit/index.ts'
import type { Timer } from '../time/index.ts'
import type { Journal } from './journal.ts'

/** Maximum number of timers that may start one another at one instant. */
const MAX_LINKS = 1000

/** Fires the timers that are due by then (match time, ms), each exactly at its due time. */
export function fireDue(engine: Engine, until: number, journal: Journal | undefined): void {
  const { time, plan } = engine
  while (time.nextDueTime() <= until) {
    const due = time.nextDueTime()
    const timer = time.next()
    if (timer === undefined) return
    time.now = due
    time.consume(timer)
    const fire = plan.timers[timer.kind.slot]?.fire
    if (fire === undefined) continue
    time.link = timer.link
    if (timer.link > MAX_LINKS) engine.step(fire.label, () => endless(timer))
    else if (engine.perform(fire.label, fire, timer.key, undefined).ok) journal?.fired()
    time.link = 0
  }
}

function endless({ kind: { name } }: Timer): never {
  throw new RefereeError('ZR_MATCH_CHAIN', { what: `timers like '${name}' at one instant`, most: MAX_LINKS })
}
