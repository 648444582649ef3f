import { type AnyMatch, beginAnyMatch, type Notice, type Seat } from 'zinc-referee'
import { type ScoreSheet, scoreSheet } from 'zinc-referee/replica'
import {
  type Crowd,
  type FaultKind,
  FaultKinds,
  type Line,
  playToEnd,
  randomCrowd,
} from 'zinc-referee/testing'
import { CommandError } from '../errors.ts'
import type { LoadedMode } from '../modes/load-mode.ts'
import { type Moment, MomentWatch, SPECTATOR } from './moment-watch.ts'

/** Match time after which a demo without an end stops, in ms. */
const LONGEST = 15 * 60_000
export interface FeedLine {
  readonly at: number
  readonly text: string
  readonly aside: string
}
interface Board {
  readonly header: readonly string[]
  readonly rows: readonly (readonly unknown[])[]
}
/** A whole demo match, as data. */
export interface Played {
  readonly mode: string
  readonly seed: string
  readonly over: boolean
  readonly length: number
  readonly seats: readonly { readonly id: Seat; readonly name: string }[]
  readonly feed: readonly FeedLine[]
  /** The columns that the mode asks for, if it does. */
  readonly board: Board | undefined
  /** The score sheet, if the rulebook keeps scores, credit or counters. */
  readonly sheet: ScoreSheet | undefined
  readonly picture: string | undefined
  readonly moment: Moment | undefined
  readonly verdict:
    | {
        readonly kind: string
        readonly winners: readonly string[]
        readonly reason: string
        readonly at: number
      }
    | undefined
  readonly record: string
  readonly faults: readonly FaultKind[]
}

const FAIR = ['otter', 'heron', 'vole', 'newt', 'coot', 'pike', 'moth', 'toad']
const fairName = (id: string): string => id.replace(/^./, (first) => first.toUpperCase())

/** Plays one match in virtual time with the mode's crowd, or with a random one. */
export function playDemo(
  mode: LoadedMode,
  seed: string,
  seatCount: number | undefined,
  expansions: readonly string[],
): Played {
  const { rulebook, demo } = mode
  const lines: string[] = []
  const faults = new FaultKinds()
  const match = beginAnyMatch(rulebook, {
    seed,
    with: expansions,
    record: (line) => lines.push(line),
    onFault: faults.add,
  })
  const seats = seatsOf(mode, seatCount)
  const names = new Map(seats.map(({ id, name }) => [id, name]))
  match.addViewer(SPECTATOR)
  for (const { id, name } of seats) match.direct('roster.join', { seat: id, name })
  for (const { id } of seats) match.submit(id, 'roster.ready', {})

  const feed: FeedLine[] = []
  const watch = new MomentWatch(
    match,
    seats.slice(0, 2).map(({ id }) => id),
  )
  const tell = demo.tell ?? tellPlainly
  const over = playToEnd(match, crowdOf(mode, seed), LONGEST, () => {
    const [update] = match.flush()
    for (const notice of update?.notices ?? []) {
      const line = tell(notice, (seat) => names.get(String(seat)) ?? String(seat))
      if (line !== undefined) feed.push({ at: notice.at, text: line.text, aside: line.aside ?? '' })
    }
    watch.look()
  })
  const picture = demo.picture?.(match)
  match.close()
  return {
    mode: rulebook.name,
    seed,
    over,
    length: match.now,
    seats,
    feed,
    board: demo.board && boardOf(match, demo.board, seats),
    sheet: sheetOf(match),
    picture,
    moment: watch.best,
    verdict: verdictOf(match),
    record: `${lines.join('\n')}\n`,
    faults: faults.all(),
  }
}

const crowdOf = ({ demo }: LoadedMode, seed: string): Crowd => demo.crowd?.(seed) ?? randomCrowd(seed)

/** Returns the seats that take part. The mode's own come first. */
export function seatsOf(
  { rulebook, demo }: LoadedMode,
  count: number | undefined,
): { readonly id: Seat; readonly name: string }[] {
  const { min, max } = rulebook.plan.seatLimits
  const wanted = count ?? Math.min(max, Math.max(min, demo.seats?.length ?? 4))
  if (wanted < min || wanted > max)
    throw new CommandError(`${rulebook.name} takes ${min} to ${max} seats, not ${wanted}.`)
  const named = demo.seats ?? FAIR.map((id) => ({ id, name: fairName(id) }))
  return Array.from(
    { length: wanted },
    (_, at) => named[at] ?? { id: `guest-${at + 1}`, name: `Guest ${at + 1}` },
  )
}

function boardOf(
  match: AnyMatch,
  columns: { readonly [header: string]: string },
  seats: readonly { readonly id: Seat; readonly name: string }[],
): Board {
  const view = match.view(SPECTATOR)
  const cell = (seat: Seat, path: string): unknown => {
    const [rule = '', part = '', name = ''] = path.split('.')
    return (
      (view[rule]?.[part] as { [seat: string]: { [cell: string]: unknown } } | undefined)?.[seat]?.[name] ??
      ''
    )
  }
  const rank = (seat: Seat): number => Number(cell(seat, 'scores.places.rank'))
  const ordered = 'scores' in view ? [...seats].sort((a, b) => rank(a.id) - rank(b.id)) : seats
  const paths = Object.entries(columns)
  return {
    header: ['scores' in view ? ['rank'] : [], 'seat', ...paths.map(([name]) => name)].flat(),
    rows: ordered.map(({ id, name }) => [
      ...('scores' in view ? [rank(id)] : []),
      name,
      ...paths.map(([, path]) => cell(id, path)),
    ]),
  }
}

function sheetOf(match: AnyMatch): ScoreSheet | undefined {
  const sheet = scoreSheet(match.view(SPECTATOR))
  return sheet.columns.length === 0 ? undefined : sheet
}

function verdictOf(match: AnyMatch): Played['verdict'] {
  const end = match.view(SPECTATOR)['verdict']?.['end'] as
    | { kind: string | null; winners: readonly string[]; reason: string; at: number }
    | undefined
  return end?.kind ? { kind: end.kind, winners: end.winners, reason: end.reason, at: end.at } : undefined
}

function tellPlainly({ name, cells }: Notice, nameOf: (seat: unknown) => string): Line {
  return {
    text: [
      name,
      ...Object.values(cells)
        .filter((value) => value !== null)
        .map((value) => (Array.isArray(value) ? value.map(nameOf).join(', ') : nameOf(value))),
    ].join(' '),
  }
}
