import { type Chance, Stream } from '../chance/index.ts'
import { seesRow, type ViewedRule } from '../sight/index.ts'
import {
  type CompiledRow,
  KeyedTable,
  type Seat,
  SeatTable,
  SingleTable,
  Store,
  type StoredPart,
  type Undoable,
} from '../state/index.ts'
import { Timekeeper } from '../time/index.ts'
import { Past } from './past.ts'
import { MOST_PARTS, type PartPlan, type Plan } from './plan.ts'
import { Seating } from './seating.ts'
import { settingsOf } from './settings.ts'
import type { StoredRulePart } from './spans.ts'

type Settings = { readonly [rule: string]: unknown }

const PUBLIC_IDS = 'public ids'
const BOUT = 1
const SETTINGS = 3

/** Everything that a match holds: rows, clocks and timers, seats, settings, streams of chance. */
export class MatchState implements Undoable {
  readonly plan: Plan
  readonly store: Store = new Store()
  readonly time: Timekeeper
  readonly seating: Seating = new Seating(this.store)
  /** By rule, in the order of the plan. */
  readonly parts: readonly (readonly StoredRulePart[])[]
  settings: Settings
  bout = 0
  /** Steps that can be taken back, from the first one that asks for it. */
  past: Past | undefined
  readonly key: Uint8Array
  readonly streams: Map<string, Stream> = new Map()

  constructor(plan: Plan, key: Uint8Array, settings: Settings) {
    this.plan = plan
    this.time = new Timekeeper(this.store, plan.timers)
    this.key = key
    this.settings = Object.fromEntries(
      plan.rules.map((rule) => [rule.name, settingsOf(rule, settings[rule.name])]),
    )
    this.parts = plan.rules.map((rule) =>
      rule.parts.map((part) => ({ plan: part, stored: this.storedPart(rule.name, part) })),
    )
  }

  /** The part in which a row stands, and the rule whose it is. */
  partOf({ $shape: { place } }: CompiledRow): { readonly rule: number; readonly stored: StoredPart } {
    const rule = Math.floor(place / MOST_PARTS)
    const part = this.parts[rule]?.[place % MOST_PARTS] as StoredRulePart
    return { rule, stored: part.stored }
  }

  /** The part of a place, such as rows' shapes have. */
  partAt(place: number): StoredPart | undefined {
    return this.parts[Math.floor(place / MOST_PARTS)]?.[place % MOST_PARTS]?.stored
  }

  rowAt(place: number, number: number): CompiledRow | undefined {
    const part = this.partAt(place)
    if (part instanceof KeyedTable) return part.row(number)
    return [...(part?.rows() ?? [])].find((row) => row.$number === number)
  }

  /** What keeps steps to be taken back, made when it is first wanted. */
  keepsPast(): Past {
    this.past ??= new Past(this)
    return this.past
  }

  *viewed(): Iterable<ViewedRule> {
    for (const { name, index } of this.plan.rules)
      yield { name, parts: (this.parts[index] ?? []).map(({ stored }) => stored) }
  }

  /** A rule's parts as its handlers hold them. */
  handles(rule: number): { readonly [part: string]: unknown } {
    return Object.fromEntries(
      (this.parts[rule] ?? []).map(({ plan, stored }) => [
        plan.name,
        stored instanceof SingleTable ? stored.row : stored,
      ]),
    )
  }

  /** Whether there is a row of 'rule.table' under this id, and, for an asker with a seat, whether it sees the row now. */
  seesRow(table: string, id: string, seat: Seat | undefined): boolean {
    const row = this.store.tables.get(table)?.get(id)
    return row !== undefined && (seat === undefined || seesRow(row, seat))
  }

  hasSeat(seat: Seat): boolean {
    return this.seating.has(seat)
  }

  addSeat(seat: Seat): void {
    const number = this.seating.add(seat)
    for (const { stored } of this.parts.flat()) if (stored instanceof SeatTable) stored.open(seat, number)
  }

  removeSeat(seat: Seat): void {
    this.time.stopWhere((timer) => timer.key === seat)
    for (const { stored } of this.parts.flat()) if (stored instanceof SeatTable) stored.close(seat)
    this.seating.remove(seat)
  }

  stream(rule: string, purpose: string): Chance {
    return this.streamNamed(`${rule}/${purpose}/${this.bout}`)
  }

  streamNamed(name: string): Stream {
    const begun = this.streams.get(name)
    if (begun !== undefined) return begun
    const stream = new Stream(this.store, this.key, name, name.includes(`/${PUBLIC_IDS}/`))
    this.streams.set(name, stream)
    return stream
  }

  protected nextBout(): void {
    this.store.undo.note(this, BOUT, this.bout)
    this.bout++
  }

  protected changeSettings(settings: Settings): void {
    this.store.undo.note(this, SETTINGS, this.settings)
    this.settings = settings
  }

  $restore(code: number, old: unknown): void {
    if (code === BOUT) this.bout = old as number
    else this.settings = old as Settings
  }

  private storedPart(rule: string, { kind, name, shape }: PartPlan): StoredPart {
    const stored = this.madePart(`${rule}.${name}`, kind, shape)
    if (stored instanceof KeyedTable) this.store.tables.set(`${rule}.${name}`, stored)
    this.store.enter(stored)
    return stored
  }

  private madePart(name: string, kind: PartPlan['kind'], shape: PartPlan['shape']): StoredPart {
    if (kind === 'perSeat') return new SeatTable(this.store, shape)
    if (kind === 'single') return new SingleTable(this.store, shape)
    return new KeyedTable(this.store, shape, () => this.mint(name))
  }

  /** A public id: from a stream apart from all others, so that it tells nothing. */
  private mint(table: string): string {
    const ids = this.stream(table, PUBLIC_IDS)
    return ids
      .int(0, 36 ** 6 - 1)
      .toString(36)
      .padStart(6, '0')
  }
}
