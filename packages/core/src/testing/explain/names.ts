import { nearest, RefereeError } from '../../kit/index.ts'
import type { ActionPlan, EventPlan, TimerPlan } from '../../plan/index.ts'
import type { CompiledRow } from '../../rows/index.ts'
import type { TracedMatch } from '../../rulebook/index.ts'
import { deedsOf } from '../../tracing/index.ts'
import { cellText } from './says.ts'

/** A cell of a row. */
export interface CellNamed {
  readonly row: CompiledRow
  readonly cell: string
}

/** At most so many names are listed. */
const LISTED = 12

const listed = (names: readonly string[]): string =>
  names.slice(0, LISTED).join(', ') + (names.length > LISTED ? ', …' : '')

/** @throws ZR_QUESTION_UNKNOWN, with what there is */
export function unknown(asked: string, what: string, known: readonly string[]): never {
  const near = nearest(asked, known)
  throw new RefereeError('ZR_QUESTION_UNKNOWN', {
    what: `There is no ${what} '${asked}' in this match`,
    fix: `${near === undefined ? '' : `Did you mean '${near}'? `}There are ${listed(known) || 'none'}`,
  })
}

/** @throws ZR_QUESTION_UNKNOWN */
export function several(asked: string, what: string, found: readonly string[]): never {
  throw new RefereeError('ZR_QUESTION_UNKNOWN', {
    what: `'${asked}' is more than one ${what}`,
    fix: `Name one whole: ${listed(found)}`,
  })
}

/** What a question can name: cells, inputs, events and timers of a match that was played. */
export class Names {
  readonly played: TracedMatch
  readonly seats: readonly string[]
  readonly actions: readonly ActionPlan[]
  readonly events: readonly EventPlan[]
  readonly timers: readonly TimerPlan[]
  readonly rules: readonly string[]

  constructor(played: TracedMatch) {
    const { plan } = played.engine
    this.played = played
    this.rules = plan.rules.map(({ name }) => name)
    this.actions = [...plan.inputs.values()].filter((input): input is ActionPlan => input.kind === 'action')
    this.events = plan.rules.flatMap(({ events }) => [...events.values()])
    this.timers = plan.timers
    this.seats = [
      ...new Set([
        ...played.match.allSeats,
        ...[...played.inputs.values()].flatMap(({ line: { seat } }) => seat ?? []),
      ]),
    ]
  }

  /** The action of a name, with its rule or without. @throws ZR_QUESTION_UNKNOWN */
  action(name: string): ActionPlan {
    const found = this.actionNamed(name)
    if (found.length === 1) return found[0] as ActionPlan
    const named = (actions: readonly ActionPlan[]): string[] => actions.map((each) => each.name)
    return found.length === 0
      ? unknown(name, 'action', named(this.actions))
      : several(name, 'action', named(found))
  }

  actionNamed(name: string): readonly ActionPlan[] {
    return this.actions.filter((each) => each.name === name || each.name.endsWith(`.${name}`))
  }

  /** True for a seat, and for what events and timers name in this match, such as a zone. */
  isKey(key: string): boolean {
    return (
      this.seats.includes(key) ||
      this.played.tracer.steps.some((step) =>
        [...deedsOf(step)].some(
          (deed) =>
            (deed.what === 'raised' && Object.values(deed.cells).includes(key)) ||
            ('timer' in deed && deed.timer.key === key),
        ),
      )
    )
  }

  seat(name: string): string {
    return this.seats.includes(name) ? name : unknown(name, 'seat', this.seats)
  }

  /** The cells that words fit: each is the name of the rule, part, row or cell, and the cell is named. */
  cells(words: readonly string[]): readonly CellNamed[] {
    const found: CellNamed[] = []
    for (const row of this.rows()) {
      const [, rule = '', part = ''] = row.$shape.path.split('/')
      for (const { name } of row.$shape.each) {
        const own = [rule, part, ...(row.$shape.keyed ? [row.id] : []), name]
        if (words.includes(name) && words.every((word) => own.includes(word))) found.push({ row, cell: name })
      }
    }
    const exact = found.filter(({ row, cell }) => cellText(row, cell) === words.join('.'))
    return exact.length > 0 ? exact : found
  }

  /** Nothing fits these words. Of a seat, its cells are listed; else the rules. @throws ZR_QUESTION_UNKNOWN */
  nothing(words: readonly string[]): never {
    const seat = words.find((word) => this.seats.includes(word))
    if (seat === undefined) return unknown(words.join(' '), 'cell, action, event, timer or rule', this.rules)
    const [other = ''] = words.filter((word) => word !== seat)
    const own = [...this.rows()].flatMap((row) =>
      row.$shape.keyed && row.id === seat ? row.$shape.each.map(({ name }) => name) : [],
    )
    return unknown(other, `cell of ${seat}, event or timer`, [...new Set(own)])
  }

  /** All rows that there are, or have been. */
  private *rows(): Iterable<CompiledRow> {
    const { engine, tracer } = this.played
    const seen = new Set<CompiledRow>()
    for (const { stored } of engine.parts.flat())
      for (const row of stored.rows()) {
        seen.add(row)
        yield row
      }
    for (const step of tracer.steps)
      for (const deed of deedsOf(step))
        if (deed.what === 'removed' && !seen.has(deed.row)) {
          seen.add(deed.row)
          yield deed.row
        }
  }
}
