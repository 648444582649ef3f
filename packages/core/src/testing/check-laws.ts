import { type Chance, chanceFrom } from '../chance/index.ts'
import { type AnyMatch, type AnyRulebook, replayRecord, resumeAnyMatch } from '../rulebook/index.ts'
import { beginPlay, type PlayRequest } from './begin-play.ts'
import { type Crowd, playToEnd } from './crowd.ts'
import { type Deed, intercepted } from './deeds.ts'
import { type FaultKind, FaultKinds } from './fault-kinds.ts'
import { differing, leavesOf } from './leaves.ts'
import { randomCrowd } from './random-crowd.ts'
import { restless } from './restless.ts'
import { ViewCopies } from './view-copies.ts'
import { watchRecord } from './watched.ts'

/** The match that is played to check the laws. */
export interface LawsRequest extends PlayRequest {
  /** Plays the match. Default: everyone plays at random. */
  crowd?(): Crowd
  /** Match time to stop at, in ms. Default: 300,000. */
  readonly until?: number
  /** At how many moments the match is replayed to and resumed from. Default: 8. */
  readonly moments?: number
}

/** A law that a match has broken. */
export interface LawBreak {
  /**
   * `refused`: an input that was refused changed something. `patched`: what a viewer was sent does not add up to its
   * view. `replayed`: the record, replayed while nobody looks, gives another match. `resumed`: a snapshot does. `watched`: the
   * record gives another match while it is watched for `explain`, or something changes in it unseen.
   */
  readonly law: 'refused' | 'patched' | 'replayed' | 'resumed' | 'watched'
  /** Match time, in ms. */
  readonly at: number
  /** The input, or the viewer and the path in its view, or the line of the record. */
  readonly where: string
  /** The expected value. */
  readonly expected: string | undefined
  /** The value that was found. */
  readonly found: string | undefined
}
/** The result of a check of the laws. */
export interface LawReport {
  /** The first 20 at most. */
  readonly breaks: readonly LawBreak[]
  /** Faults of the match that was played, each kind once. */
  readonly faults: readonly FaultKind[]
  /** Number of inputs that were given, refused ones included. */
  readonly inputs: number
  /** Number of moments that were replayed to and resumed from. */
  readonly moments: number
  /** The record of the match that was played, as text. */
  readonly record: string
}

/** The state of a match at one moment. */
interface Moment {
  readonly at: number
  readonly lines: number
  readonly snapshot: string
  readonly views: ReadonlyMap<string, string>
}

const MAX_BREAKS = 20
/** Once in how many looks copies are compared with views. */
const SELDOM = 4
const LENGTH = 5 * 60_000

/**
 * Plays a match while seats are away, come back and leave, the clocks are paused, and viewers come and go. It checks
 * on the way that refused inputs change nothing and that everybody's updates add up to their view. In the end it
 * checks that the record, replayed while nobody looks, and snapshots that are resumed show every viewer the same.
 * Returns what was broken, and the faults.
 *
 * @example
 * ```ts
 * const { breaks, faults } = checkLaws(ferry, { seats: ['otter', 'heron'] })
 * ```
 * @throws ZR_MATCH_MISUSED if no match begins with these seats; what `beginMatch` throws
 */
export function checkLaws(book: AnyRulebook, request: LawsRequest): LawReport {
  const { seed = 'fair-1', until = LENGTH, moments: count = 8, crowd = () => randomCrowd(seed) } = request
  const lines: string[] = []
  const faults = new FaultKinds()
  const breaks: LawBreak[] = []
  const match = beginPlay(book, request, { record: (line) => lines.push(line), onFault: faults.add })
  const copies = new ViewCopies(match)
  copies.addViewer(...match.seats, 'spectator', 'server')
  const chance = chanceFrom(seed, 'looks')
  const moments: Moment[] = []
  const players = restless(crowd(), seed, until)
  const beats = Math.ceil((until - match.now) / players.every)
  let beat = 0
  let inputs = 0
  const carryOut = refusedChangesNothing(match, breaks)
  const watched = intercepted(match, (deed) => {
    if (deed.name !== 'time') inputs++
    return carryOut(deed)
  })
  const look = (): void => {
    copies.flush()
    // A copy that is wrong stays wrong, so it need not be compared each time.
    if (chance.int(1, SELDOM) === 1) breaks.push(...unlikeIn(copies, match.now))
    if (beat++ % Math.ceil(beats / count) === 0 && moments.length < count)
      moments.push(momentOf(match, lines.length))
    lookAround(match, copies, chance)
  }
  playToEnd(watched, pausing(players, chance), until, look)
  copies.flush()
  breaks.push(...unlikeIn(copies, match.now))
  const end = momentOf(match, lines.length)
  for (const moment of [...moments, end]) breaks.push(...replayedTo(book, lines, moment))
  for (const moment of moments) breaks.push(...resumedFrom(book, lines, moment, end))
  breaks.push(...watchedTo(book, lines, end))
  return {
    breaks: breaks.slice(0, MAX_BREAKS),
    faults: faults.all(),
    inputs,
    moments: moments.length,
    record: lines.join('\n'),
  }
}

/** Does deeds, and checks that those that are refused change nothing. A fault may be one too many and end the bout. */
function refusedChangesNothing(match: AnyMatch, breaks: LawBreak[]): (deed: Deed) => unknown {
  let before = match.hash()
  return (deed) => {
    const ruling = deed.does(match)
    const { ok, code } = Object(ruling) as { readonly ok?: boolean; readonly code?: string }
    const after = match.hash()
    if (ok === false && code !== 'fault' && after !== before)
      breaks.push({ law: 'refused', at: match.now, where: deed.name, expected: before, found: after })
    before = after
    return ruling
  }
}

const unlikeIn = (copies: ViewCopies, at: number): readonly LawBreak[] =>
  copies.differences().map(({ viewer, path, copy, view }) => ({
    law: 'patched',
    at,
    where: viewer + path,
    expected: view,
    found: copy,
  }))

/** Pauses the match from time to time. */
const pausing = (players: Crowd, chance: Chance): Crowd => ({
  every: players.every,
  beat(match, drives) {
    players.beat(match, drives)
    if (match.state.phases.now.paused) match.direct('phases.resume', {})
    else if (chance.int(1, 30) === 1) match.direct('phases.pause', {})
  },
})

/** Whatever looks without doing anything, and viewers that come and go. */
function lookAround(match: AnyMatch, copies: ViewCopies, chance: Chance): void {
  const viewer = chance.pick([...match.seats, 'spectator', 'server']) ?? 'spectator'
  const how = chance.int(1, 12)
  if (how === 1) copies.removeViewer(viewer)
  if (how < 4) copies.addViewer(viewer)
  if (how === 4) match.snapshot()
  for (const { actions } of how === 5 ? match.describe().rules : [])
    for (const { name, offers } of actions)
      if (offers) for (const seat of match.seats) match.options(seat, name)
}

function momentOf(match: AnyMatch, lines: number): Moment {
  const views = [...match.seats, 'spectator', 'server'].map(
    (viewer) => [viewer, JSON.stringify(match.view(viewer))] as const,
  )
  return {
    at: match.now,
    lines,
    snapshot: JSON.stringify(match.snapshot()),
    views: new Map([...views, ['hash', JSON.stringify({ hash: match.hash() })]]),
  }
}

function replayedTo(book: AnyRulebook, lines: readonly string[], moment: Moment): readonly LawBreak[] {
  const { match, differs } = replayRecord(book, lines.slice(0, moment.lines).join('\n'), { until: moment.at })
  if (differs === undefined) return differencesIn('replayed', match, moment)
  const { line, recorded, replayed } = differs
  return [{ law: 'replayed', at: moment.at, where: `line ${line}`, expected: recorded, found: replayed }]
}

function watchedTo(book: AnyRulebook, lines: readonly string[], moment: Moment): readonly LawBreak[] {
  const { played, unwatched } = watchRecord(book, lines.slice(0, moment.lines).join('\n'), moment.at)
  return [
    ...differencesIn('watched', played.match, moment),
    ...unwatched.map(
      ({ where, found, watched }): LawBreak => ({
        law: 'watched',
        at: moment.at,
        where,
        expected: watched,
        found,
      }),
    ),
  ]
}

function resumedFrom(
  book: AnyRulebook,
  lines: readonly string[],
  moment: Moment,
  end: Moment,
): readonly LawBreak[] {
  const resumed = resumeAnyMatch(book, JSON.parse(moment.snapshot))
  const tail = lines.slice(moment.lines, end.lines).join('\n')
  const goneOn = resumeAnyMatch(book, JSON.parse(moment.snapshot), { tail, ifTailDiffers: 'go-on' })
  if (goneOn.now < end.at) goneOn.advanceTo(end.at)
  return [...differencesIn('resumed', resumed, moment), ...differencesIn('resumed', goneOn, end)]
}

function differencesIn(law: LawBreak['law'], match: AnyMatch, moment: Moment): readonly LawBreak[] {
  const { views } = momentOf(match, 0)
  return [...moment.views].flatMap(([viewer, text]) => {
    if (views.get(viewer) === text) return []
    const [expected, found] = [leavesOf(JSON.parse(text)), leavesOf(JSON.parse(views.get(viewer) ?? '{}'))]
    return differing(expected, found).map((path) => ({
      law,
      at: moment.at,
      where: viewer + path,
      expected: expected.get(path),
      found: found.get(path),
    }))
  })
}
