import type { AnyMatch, AnyRulebook } from '../rulebook/index.ts'
import { insideOf } from '../rulebook/index.ts'
import { beginPlay, type PlayRequest } from './begin-play.ts'
import type { CheckFinding } from './check-finding.ts'
import { Watched } from './check-watched.ts'
import { type Crowd, playToEnd } from './crowd.ts'
import { intercepted } from './deeds.ts'
import { type FaultKind, FaultKinds } from './fault-kinds.ts'
import { randomCrowd } from './random-crowd.ts'
import { movesOf } from './thinking/moves.ts'

/** The matches that are rehearsed to check a rulebook. */
export interface CheckRequest extends PlayRequest {
  /** Returns the crowd of a match. Every other match is played at random. Default: all are. */
  crowd?(seed: string): Crowd
  /** How many matches are rehearsed. Default: 20. */
  readonly matches?: number
  /** Match time to stop a match at, in ms. Default: 600,000. */
  readonly until?: number
  /** Returns the time in ms, by which inputs that take long are found. Default: none, and none are. */
  now?(): number
}
const LENGTH = 10 * 60_000
/** An input is slow if it takes longer than this, in ms: half of the times that it comes, and this often. */
const [SLOW, OFTEN] = [50, 3]

/** What has happened in the matches so far. */
interface Seen {
  readonly accepted: Set<string>
  /** By action or fact, how often it was refused, and with which codes. */
  readonly refused: Map<string, { times: number; readonly codes: Set<string> }>
  readonly raised: Set<string>
  readonly started: Set<string>
  /** By input, how often it came, how often it was slow, and the most that it took, in ms. */
  readonly took: Map<string, { times: number; slow: number; most: number }>
  /** Where matches stood still for good, and since when. */
  readonly stuck: Map<string, number>
  over: number
}

/**
 * Rehearses some matches of a rulebook, and reports what never happened in any of them: what it declares and may not need, or
 * what cannot happen because of a mistake. A rehearsal is no proof; more matches find less.
 * @throws ZR_MATCH_MISUSED if no match begins with these seats; what `beginMatch` throws
 */
export function checkRulebook(book: AnyRulebook, request: CheckRequest): readonly CheckFinding[] {
  const { matches = 20, seed = 'fair-1', until = LENGTH, crowd } = request
  const seen: Seen = {
    accepted: new Set(),
    refused: new Map(),
    raised: new Set(),
    started: new Set(),
    took: new Map(),
    stuck: new Map(),
    over: 0,
  }
  const faults = new FaultKinds()
  const watched = new Watched()
  let match: AnyMatch | undefined
  for (let n = 0; n < matches; n++) {
    const own = `${seed} ${n}`
    const lines: string[] = []
    const record = (line: string): void => void lines.push(line)
    match = beginPlay(book, { ...request, seed: own }, { record, onFault: faults.add })
    const players = (n % 2 === 1 ? crowd?.(own) : undefined) ?? randomCrowd(own)
    if (rehearse(match, players, until, seen, request.now)) seen.over++
    else {
      const where = stuckIn(match)
      if (where !== undefined) seen.stuck.set(where, (seen.stuck.get(where) ?? 0) + 1)
    }
    watched.take(book, lines.join('\n'))
  }
  if (match === undefined) return []
  const inAll = `in ${matches} ${matches === 1 ? 'match' : 'matches'}`
  return [
    ...faultFindings(faults.all()),
    ...missing(match, seen, inAll),
    ...endless(match, seen, inAll, until),
    ...watched.findings(inAll),
  ]
}

/** Where a match stands still for good: no timer runs, no seat has an option, and no fact can come from a game. */
function stuckIn(match: AnyMatch): string | undefined {
  const open = insideOf(match)
  if (open === undefined || match.nextDue !== undefined) return undefined
  if ([...open.engine.plan.inputs.values()].some(({ kind }) => kind === 'fact')) return undefined
  if (match.allSeats.some((seat) => movesOf(open, seat).length > 0)) return undefined
  const { phases, turns } = match.state
  const step = turns?.now.step ?? ''
  return step === '' ? phases.now.phase : `${phases.now.phase}, step ${step}`
}

function rehearse(match: AnyMatch, crowd: Crowd, until: number, seen: Seen, now = () => 0): boolean {
  const timers = [...(insideOf(match)?.engine.plan.timers.values() ?? [])]
  match.addViewer('server')
  const watched = intercepted(match, (deed) => {
    const before = now()
    const ruling = deed.does(match)
    const ms = now() - before
    const took = seen.took.get(deed.name) ?? { times: 0, slow: 0, most: 0 }
    seen.took.set(deed.name, took)
    took.times++
    if (ms > SLOW) took.slow++
    took.most = Math.max(took.most, ms)
    for (const each of [ruling].flat()) {
      const { ok, code = '' } = Object(each) as { readonly ok?: boolean; readonly code?: string }
      if (ok === true) seen.accepted.add(deed.name)
      else if (ok === false) {
        const known = seen.refused.get(deed.name) ?? { times: 0, codes: new Set() }
        known.times++
        known.codes.add(code)
        seen.refused.set(deed.name, known)
      }
    }
    return ruling
  })
  return playToEnd(watched, crowd, until, () => {
    const engine = insideOf(match)?.engine
    for (const { slot, name } of timers)
      if (engine?.time.running(slot).length) seen.started.add(`${slot} ${name}`)
    for (const { events = [] } of match.flush()) for (const { name } of events) seen.raised.add(name)
  })
}

/** What never happened. */
function missing(match: AnyMatch, seen: Seen, inAll: string): readonly CheckFinding[] {
  const { rules, unused } = match.describe()
  const inputs = rules.flatMap(({ actions, facts }) => [...actions, ...facts])
  const timers = [...(insideOf(match)?.engine.plan.timers.values() ?? [])]
  return [
    ...inputs.flatMap(({ name }): CheckFinding[] => {
      if (seen.accepted.has(name)) return []
      const refused = seen.refused.get(name)
      const says =
        refused === undefined
          ? `Nobody could try it ${inAll}: it was never an option, or never chosen.`
          : `It was never accepted ${inAll}: ${refused.times} times refused with ${[...refused.codes].join(', ')}.`
      return [{ kind: 'never-accepted', name, says, fix: 'Look at its gates and options, or take it out.' }]
    }),
    ...rules.flatMap(({ name: rule, events }) =>
      Object.keys(events).flatMap((event): CheckFinding[] =>
        seen.raised.has(`${rule}.${event}`)
          ? []
          : [
              {
                kind: 'never-raised',
                name: `${rule}.${event}`,
                says: `It was never raised ${inAll}.`,
                fix: 'Emit it where it happens, or take it out.',
              },
            ],
      ),
    ),
    ...timers.flatMap(({ slot, name, owner }): CheckFinding[] =>
      seen.started.has(`${slot} ${name}`)
        ? []
        : [
            {
              kind: 'never-started',
              name: `${rules[owner]?.name}.${name}`,
              says: `No match was seen with it running ${inAll}.`,
              fix: 'Start it, or take it out.',
            },
          ],
    ),
    ...unused.map((each): CheckFinding => {
      const [what = '', name = ''] = each.split(' ')
      const says =
        what === 'event' ? 'Nobody handles it, and nobody sees any of it.' : `Nothing uses this ${what}.`
      return { kind: 'unused', name, says, fix: 'Use it, or take it out.' }
    }),
  ]
}

const faultFindings = (faults: readonly FaultKind[]): readonly CheckFinding[] =>
  faults.map((fault) => ({
    kind: 'fault',
    name: fault.handler,
    says: `It has thrown ${fault.times} times: ${fault.error}.`,
    fix: 'Fix the code at the place that is named.',
    fault,
  }))

/** What took long, stood still, or did not end. */
function endless(match: AnyMatch, seen: Seen, inAll: string, until: number): readonly CheckFinding[] {
  const minutes = Math.round(until / 60_000)
  return [
    ...[...seen.took].flatMap(([name, { times, slow, most }]): CheckFinding[] =>
      name === 'time' || slow < OFTEN || 2 * slow < times
        ? []
        : [
            {
              kind: 'slow',
              name,
              says: `It took more than ${SLOW} ms ${slow} of ${times} times ${inAll}, and ${Math.round(most)} ms at most.`,
              fix: 'Look at what its handlers do: a host waits for them, and so does everybody in the match.',
            },
          ],
    ),
    ...[...seen.stuck].map(
      ([where, times]): CheckFinding => ({
        kind: 'no-way-out',
        name: match.rulebook,
        says: `In ${times} of the matches nothing could happen any more in ${where}: no timer ran, and no seat had an option.`,
        fix: 'Give the phase or the step a time, or an action that leads out of it.',
      }),
    ),
    ...(seen.over > 0
      ? []
      : [
          {
            kind: 'never-over' as const,
            name: match.rulebook,
            says: `No match was over ${inAll} after ${minutes} minutes of match time.`,
            fix: 'Give the verdict a condition that can be met, or a round its length.',
          },
        ]),
  ]
}
