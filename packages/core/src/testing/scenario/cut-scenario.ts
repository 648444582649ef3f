import { RefereeError } from '../../kit/index.ts'
import { type InputLine, type RecordContent, readRecord } from '../../record/index.ts'
import { type AnyMatch, type AnyRulebook, replayRecord } from '../../rulebook/index.ts'
import { leavesOf } from '../leaves.ts'
import type { Scenario, ScenarioStep } from './read-scenario.ts'
import { runScenario } from './run-scenario.ts'

/** Where a scenario ends. */
export interface CutRequest {
  /** What it shows, in words. Default: the mode and the time. */
  readonly scenario?: string
  /** Match time, in ms. Default: the end of the record. */
  readonly at?: number
  /** The number of a line, which is its last one. Default: the last line. */
  readonly line?: number
}

type Cells = { readonly [cell: string]: unknown }

/** Inputs that were refused for when they were sent. A scenario sends each at its time, so they are left out. */
const UNTIMELY = new Set(['stale', 'stale-life', 'stale-turn', 'stale-id', 'id-reused'])
/** So much of what a viewer is shown of the last step is expected. */
const MOST_SHOWN = 20

/**
 * Makes a scenario of a record, up to a moment: all its inputs at their times, with their rulings, and what each seat is
 * shown of the last one. Names of players are left out: seats are called by their ids. It is played before it is returned.
 * @throws ZR_RECORD_NO_SCENARIO if it has what a scenario cannot say, and what `replayRecord` throws
 */
export function cutScenario(
  book: AnyRulebook,
  record: string | RecordContent,
  { scenario: words, at = Number.POSITIVE_INFINITY, line: last = Number.POSITIVE_INFINITY }: CutRequest = {},
): Scenario {
  const content = typeof record === 'string' ? readRecord(record) : record
  const { header } = content
  if (header.from !== undefined) throw none('it begins with a snapshot')
  if (header.seed.startsWith('hex:')) throw none('its seed is no text')
  const lines = content.lines.filter(({ number, line }) => line.t <= at && number <= last)
  const inputs = lines.flatMap(({ line }) => ('input' in line ? line : []))
  if (inputs.length === 0) throw none('nothing was done up to then')
  const joins = inputs.findIndex((line) => !isPlainJoin(line))
  const seated = inputs.slice(0, joins === -1 ? inputs.length : joins)
  const seats = seated.map(({ input }) => String(Object(input).seat))
  const seatOf = new Map(seated.map(({ input }, at) => [Object(input).player, seats[at] ?? '']))
  const steps = inputs.slice(seated.length).flatMap((line) => stepOf(line, seatOf))
  const end = lines.at(-1)?.line.t ?? 0
  const scenario: Scenario = {
    scenario: words ?? `${header.rulebook} up to ${timeText(end)}`,
    mode: header.rulebook,
    seats,
    lobby: true,
    seed: header.seed,
    ...(header.with && { with: header.with }),
    ...settingsApart(book, header),
    steps: [...steps.slice(0, -1), { ...steps.at(-1), ...shownOf(book, { ...content, lines }) }],
  }
  const [wrong] = runScenario(book, scenario).unmet
  if (wrong === undefined) return scenario
  throw none(
    `${wrong.what} in step ${wrong.step} gives ${wrong.found} in it, and ${wrong.expected} in the record`,
  )
}

const none = (why: string): RefereeError => new RefereeError('ZR_RECORD_NO_SCENARIO', { why })

/** Joins before anything else that no bot makes: a scenario begins with them. */
const isPlainJoin = ({ t, direct, no, input }: InputLine): boolean =>
  t === 0 && direct === 'roster.join' && no === undefined && Object(input).bot !== true

function stepOf(line: InputLine, seatOf: ReadonlyMap<unknown, string>): ScenarioStep[] {
  const { t, submit, seat, report, reportAll, direct, input, no, how } = line
  if (typeof no === 'string' && UNTIMELY.has(no)) return []
  if (how?.at !== undefined && how.at !== t) throw none('a fact in it came late')
  const refused = no === undefined ? {} : { refused: no }
  const step = { at: timeText(t), ...refused }
  if (submit !== undefined) return [{ ...step, act: submit, seat: seat ?? '', ...inputOf(input) }]
  if (report !== undefined) return [{ ...step, report, ...inputOf(input) }]
  if (reportAll !== undefined) return [{ ...step, report: reportAll, inputs: input as readonly Cells[] }]
  const player = Object(input).player as unknown
  const known = direct === 'roster.join' && typeof player === 'string' && player !== '' && seatOf.get(player)
  return [{ ...step, direct: direct ?? '', ...inputOf(known ? { ...Object(input), player: known } : input) }]
}

const inputOf = (input: unknown): { readonly input?: Cells } =>
  Object.keys(Object(input)).length === 0 ? {} : { input: input as Cells }

/** Settings that are not as the rulebook has them by itself. */
function settingsApart(
  book: AnyRulebook,
  { settings, with: taken = [] }: RecordContent['header'],
): Pick<Scenario, 'settings'> {
  const apart = book.planWith(taken).rules.flatMap((rule) => {
    const usual: Cells = Object(rule.usual)
    const own = Object.entries(Object(settings[rule.name])).filter(
      ([name, value]) => !rule.fixed.has(name) && JSON.stringify(value) !== JSON.stringify(usual[name]),
    )
    return own.length === 0 ? [] : [[rule.name, Object.fromEntries(own)] as const]
  })
  return apart.length === 0 ? {} : { settings: Object.fromEntries(apart) }
}

/** What the views of the seats have of the last input. */
function shownOf(book: AnyRulebook, content: RecordContent): Pick<ScenarioStep, 'shows'> {
  const number = content.lines.findLast(({ line }) => 'input' in line)?.number
  const before = new Map<string, ReadonlyMap<string, string>>()
  const views = (match: AnyMatch) => match.seats.map((seat) => [seat, leavesOf(match.view(seat))] as const)
  const shows: [string, Cells][] = []
  replayRecord(book, content, {
    onLine(line, match) {
      if (line.number === number)
        for (const [seat, leaves] of views(match)) {
          const was = before.get(seat)
          const changed = [...leaves].filter(
            ([path, text]) => was?.get(path) !== text && !/\/options\/|\/name$/.test(path),
          )
          if (changed.length > 0) shows.push([seat, cellsOf(changed)])
        }
      else for (const [seat, leaves] of views(match)) before.set(seat, leaves)
    },
  })
  return shows.length === 0 ? {} : { shows: Object.fromEntries(shows) }
}

const cellsOf = (leaves: readonly (readonly [path: string, text: string])[]): Cells =>
  Object.fromEntries(
    leaves
      .slice(0, MOST_SHOWN)
      .map(([path, text]) => [path.slice(1).replaceAll('/', '.'), JSON.parse(text) as unknown]),
  )

/** A time to the millisecond, such as '1:02.345'. */
function timeText(ms: number): string {
  const whole = Math.floor(ms / 1000)
  const rest = ms % 1000
  const two = (n: number): string => String(n).padStart(2, '0')
  return `${Math.floor(whole / 60)}:${two(whole % 60)}${rest === 0 ? '' : `.${String(rest).padStart(3, '0')}`}`
}
