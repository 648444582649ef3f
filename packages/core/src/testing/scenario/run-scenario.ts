import { canonicalJson } from '../../kit/index.ts'
import type { Ruling } from '../../rule/index.ts'
import { type AnyMatch, type AnyRulebook, beginAnyMatch } from '../../rulebook/index.ts'
import type { Notice } from '../../sight/index.ts'
import { beginPlay } from '../begin-play.ts'
import { type FaultKind, FaultKinds } from '../fault-kinds.ts'
import { fits, seenAt, textOf } from '../seen.ts'
import type { Scenario, ScenarioStep } from './read-scenario.ts'
import { timeFrom } from './time-from.ts'

/** Something that did not come as a scenario expects. */
export interface Unmet {
  /** The number of the step, from 1. */
  readonly step: number
  /** Time from the start of the steps, in ms. */
  readonly at: number
  /** What was looked at, such as `otter sees vitals.body.heron.health`. */
  readonly what: string
  /** What was expected, as JSON text or in words. */
  readonly expected: string
  /** What was found. */
  readonly found: string
}
/** What came of a scenario. */
export interface ScenarioResult {
  /** Its words. */
  readonly scenario: string
  /** Number of things that were compared. */
  readonly compared: number
  /** What did not come as expected, in the order of the steps. */
  readonly unmet: readonly Unmet[]
  /** Faults of the mode, each kind once. */
  readonly faults: readonly FaultKind[]
}

/**
 * Plays a scenario in virtual time, and compares what came with what it expects. All steps are done, whatever comes of them.
 * @throws ZR_MATCH_MISUSED if no match begins with its seats, and what `beginMatch` throws for its settings
 */
export function runScenario(book: AnyRulebook, scenario: Scenario): ScenarioResult {
  const kinds = new FaultKinds()
  const match = begun(book, scenario, kinds)
  const start = match.now
  const viewers = new Set([...match.allSeats, 'spectator'])
  for (const viewer of viewers) match.addViewer(viewer)
  match.flush({ all: true })
  const unmet: Unmet[] = []
  let compared = 0
  for (const [n, step] of scenario.steps.entries()) {
    const compare = (what: string, expected: unknown, found: unknown): void => {
      compared++
      const [wanted, got] = [textOf(expected), textOf(found)]
      if (wanted !== got)
        unmet.push({ step: n + 1, at: match.now - start, what, expected: wanted, found: got })
    }
    const due =
      step.at !== undefined ? start + (timeFrom(step.at) ?? 0) : match.now + (timeFrom(step.after ?? 0) ?? 0)
    if (due < match.now) compare('the time of the step', 'a time that is still to come', 'one that is over')
    else if (due > match.now) match.advanceTo(due)
    const rulings = done(match, step)
    if (rulings !== undefined) compare(`the ruling on ${nameOf(step)}`, ...judged(step, rulings))
    const got = new Map<string, readonly Notice[]>(
      match.flush({ all: true }).map(({ viewer, notices }) => [viewer, notices]),
    )
    lookAt(match, step, got, compare)
  }
  return { scenario: scenario.scenario, compared, unmet, faults: kinds.all() }
}

function begun(book: AnyRulebook, { seats, lobby = false, ...given }: Scenario, kinds: FaultKinds): AnyMatch {
  const { seed = 'fair-1', with: taken = [], settings = {} } = given
  if (!lobby) return beginPlay(book, { seats, seed, with: taken, settings }, { onFault: kinds.add })
  const match = beginAnyMatch(book, { seed, with: taken, settings, onFault: kinds.add })
  for (const seat of seats) match.direct('roster.join', { seat, name: seat })
  return match
}

const nameOf = ({ act, seat, report, direct }: ScenarioStep): string =>
  act === undefined ? (report ?? direct ?? '') : `${seat}'s ${act}`

function done(
  match: AnyMatch,
  { act, seat = '', report, direct, input = {}, inputs }: ScenarioStep,
): readonly Ruling[] | undefined {
  if (act !== undefined) return [match.submit(seat, act, input)]
  if (report !== undefined)
    return inputs === undefined ? [match.report(report, input)] : match.reportAll(report, inputs)
  return direct === undefined ? undefined : [match.direct(direct, input)]
}

/** The rulings as they are expected, and as they came: one text where all are alike. */
function judged({ refused = 'accepted' }: ScenarioStep, rulings: readonly Ruling[]): [unknown, unknown] {
  const came = rulings.map((ruling) => (ruling.ok ? 'accepted' : ruling.code))
  if (typeof refused !== 'string') return [refused.map((code) => code ?? 'accepted'), came]
  return [refused, came.find((each) => each !== refused) ?? refused]
}

type Compare = (what: string, expected: unknown, found: unknown) => void

function lookAt(
  match: AnyMatch,
  { shows = {}, hides = {}, has = {}, notices = {}, silent = {}, options = {}, verdict }: ScenarioStep,
  got: ReadonlyMap<string, readonly Notice[]>,
  compare: Compare,
): void {
  const seen = (viewer: string, path: string): unknown => seenAt(match, viewer, path)
  for (const [viewer, paths] of Object.entries(shows))
    for (const [path, value] of Object.entries(paths))
      compare(`${viewer} sees ${path}`, value, seen(viewer, path))
  for (const [viewer, paths] of Object.entries(hides))
    for (const path of paths) compare(`${viewer} does not see ${path}`, undefined, seen(viewer, path))
  for (const [viewer, tables] of Object.entries(has))
    for (const [table, rows] of Object.entries(tables))
      for (const row of rows) {
        const all = Object.values(Object(seen(viewer, table)))
        compare(`${viewer} sees in ${table}`, row, all.some((each) => fits(each, row)) ? row : all)
      }
  for (const [viewer, expected] of Object.entries(notices))
    for (const each of expected) {
      const { name, cells = {} } = typeof each === 'string' ? { name: each } : each
      const came = (got.get(viewer) ?? []).filter((notice) => notice.name === name)
      const isThere = came.some((notice) => fits(notice.cells, cells))
      compare(
        `${viewer} is sent ${name}`,
        each,
        isThere ? each : came.length > 0 ? came.map((one) => one.cells) : undefined,
      )
    }
  for (const [viewer, names] of Object.entries(silent))
    for (const name of names) {
      const came = (got.get(viewer) ?? []).filter((notice) => notice.name === name)
      compare(`${viewer} is not sent ${name}`, undefined, came[0]?.cells)
    }
  for (const [seat, actions] of Object.entries(options))
    for (const [action, inputs] of Object.entries(actions))
      compare(`the options of ${seat} for ${action}`, sorted(inputs), sorted(match.options(seat, action)))
  if (verdict !== undefined) {
    const end = Object(seen('spectator', 'verdict.end'))
    const found = Object.fromEntries(Object.keys(verdict).map((name) => [name, end[name]]))
    compare('the verdict', verdict, found)
  }
}

const sorted = (inputs: readonly unknown[]): unknown[] =>
  [...inputs].sort((a, b) => (canonicalJson(a) < canonicalJson(b) ? -1 : 1))
