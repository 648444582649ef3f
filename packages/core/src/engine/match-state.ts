import { type Seat, SPECTATOR } from '../cells/index.ts'
import { type Chance, KeyedIds, Stream } from '../chance/index.ts'
import { frozenCopy } from '../kit/index.ts'
import { MAX_PARTS, type PartPlan, type Plan, settingsOfAll } from '../plan/index.ts'
import {
  type CompiledRow,
  type IdMaker,
  idFor,
  KeyedTable,
  type RowShape,
  renameSeat,
  SeatTable,
  SingleTable,
  Store,
  type StoredPart,
  type Undoable,
} from '../rows/index.ts'
import { seesRow, type ViewedRule } from '../sight/index.ts'
import { Timekeeper } from '../time/index.ts'
import type { StoredRulePart } from './reset-parts.ts'
import { formerly, Seating } from './seating.ts'

type Settings = { readonly [rule: string]: unknown }

/** The state before a change, to go back to: one of these members is set. */
interface Before {
  readonly bout?: number
  readonly settings?: Settings
}

/** Everything that a match holds: rows, clocks and timers, seats, settings, streams of chance. */
export class MatchState implements Undoable<Before> {
  readonly plan: Plan
  readonly store: Store
  readonly time: Timekeeper
  readonly seating: Seating
  /** By rule, in the order of the plan. */
  readonly parts: readonly (readonly StoredRulePart[])[]
  /** Frozen to the last member: code that wrote to them would change matches behind the back of their records. */
  settings: Settings
  bout = 0
  readonly key: Uint8Array
  readonly streams: Map<string, Stream> = new Map()

  constructor(
    plan: Plan,
    key: Uint8Array,
    settings: Settings,
    ids: IdMaker = new KeyedIds(key),
    inForce?: Settings,
  ) {
    this.plan = plan
    this.store = new Store(ids)
    this.seating = new Seating(this.store)
    this.time = new Timekeeper(this.store, plan.timers)
    this.key = key
    this.settings = inForce ? frozenCopy(inForce) : settingsOfAll(plan, settings)
    this.parts = plan.rules.map((rule) =>
      rule.parts.map((part) => ({ plan: part, stored: this.storedPart(rule.name, part) })),
    )
  }

  /** Returns the part that a row is in, and the rule of that part. */
  partOf({ $shape: { place } }: CompiledRow): { readonly rule: number; readonly stored: StoredPart } {
    const rule = Math.floor(place / MAX_PARTS)
    const part = this.parts[rule]?.[place % MAX_PARTS] as StoredRulePart
    return { rule, stored: part.stored }
  }

  /** The part of a place, such as rows' shapes have. */
  partAt(place: number): StoredPart | undefined {
    return this.parts[Math.floor(place / MAX_PARTS)]?.[place % MAX_PARTS]?.stored
  }

  rowAt(place: number, number: number): CompiledRow | undefined {
    const part = this.partAt(place)
    if (part instanceof KeyedTable) return part.row(number)
    return [...(part?.rows() ?? [])].find((row) => row.$number === number)
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

  /**
   * The inner id of a row of 'rule.table' that an input names. A seat names it by the id that it knows, or by the inner
   * one as records and bots in process do, and only while it sees the row. Facts and directives name any row by its inner
   * id, and one that spectators see by the id that they know: a referee at a venue has no other.
   */
  rowId(table: string, id: string, seat: Seat | undefined): string | undefined {
    const rows = this.store.tables.get(table)
    const named = rows?.get(id)
    if (named !== undefined) return seat === undefined || seesRow(named, seat) ? named.id : undefined
    const asker = seat ?? SPECTATOR
    return rows?.rows().find((row) => seesRow(row, asker) && idFor(row, asker) === id)?.id
  }

  /**
   * Returns the id by which a seat knows a row, given the row's inner id. Returns nothing if the seat can't see the
   * row.
   */
  idShown(table: string, inner: string, seat: Seat): string | undefined {
    const row = this.store.tables.get(table)?.get(inner)
    return row !== undefined && seesRow(row, seat) ? idFor(row, seat) : undefined
  }

  /** The inner ids of the rows of 'rule.table' that a seat sees. */
  rowsSeen(table: string, seat: Seat): readonly string[] {
    const rows = this.store.tables.get(table)?.rows() ?? []
    return rows.filter((row) => seesRow(row, seat)).map(({ id }) => id)
  }

  /** Data that a rule gives a seat, with rows by the ids that it knows; those that it does not see are nothing. */
  shownTo(seat: Seat, data: unknown): unknown {
    if (typeof data === 'string') {
      for (const [table, rows] of this.store.tables)
        if (rows.isIdentified(data)) return this.idShown(table, data, seat) ?? null
      return data
    }
    if (Array.isArray(data)) return data.map((item) => this.shownTo(seat, item))
    if (typeof data !== 'object' || data === null) return data
    return Object.fromEntries(Object.entries(data).map(([name, item]) => [name, this.shownTo(seat, item)]))
  }

  hasSeat(seat: Seat): boolean {
    return this.seating.has(seat)
  }

  addSeat(seat: Seat): void {
    const number = this.seating.add(seat)
    for (const { stored } of this.parts.flat()) if (stored instanceof SeatTable) stored.open(seat, number)
  }

  /** Stops what runs for a seat. A timer keyed by something else may have a key that reads like it. */
  stopTimersOf(seat: Seat): void {
    const { timers } = this.plan
    this.time.stopWhere(({ key, kind: { slot } }) => key === seat && timers[slot]?.keyedBy === 'seat')
  }

  removeSeat(seat: Seat): void {
    const former = formerly(this.seating.number(seat))
    this.stopTimersOf(seat)
    for (const { stored } of this.parts.flat()) {
      if (stored instanceof SeatTable) stored.close(seat)
      for (const row of stored.rows()) renameSeat(row, seat, former)
      if (stored instanceof KeyedTable) stored.forgetViewer(seat)
    }
    this.seating.remove(seat)
    this.store.seatRemoved = true
  }

  stream(rule: string, purpose: string): Chance {
    return this.streamNamed(`${rule}/${purpose}/${this.bout}`)
  }

  streamNamed(name: string): Stream {
    const begun = this.streams.get(name)
    if (begun !== undefined) return begun
    const stream = new Stream(this.store, this.key, name)
    this.streams.set(name, stream)
    return stream
  }

  protected nextBout(): void {
    this.store.undo.noteOf(this, { bout: this.bout })
    this.bout++
  }

  changeSettings(settings: Settings): void {
    this.store.undo.noteOf(this, { settings: this.settings })
    this.settings = settings
  }

  restore({ bout = this.bout, settings = this.settings }: Before): void {
    this.bout = bout
    this.settings = settings
  }

  private storedPart(rule: string, { kind, name, shape }: PartPlan): StoredPart {
    const stored = this.madePart(kind, shape)
    if (stored instanceof KeyedTable) this.store.tables.set(`${rule}.${name}`, stored)
    this.store.enter(stored)
    return stored
  }

  private madePart(kind: PartPlan['kind'], shape: PartPlan['shape']): StoredPart {
    const made = this.shapeFor(shape)
    if (kind === 'perSeat') return new SeatTable(this.store, made)
    if (kind === 'single') return new SingleTable(this.store, made)
    return new KeyedTable(this.store, made)
  }

  /** The shape that the rows of a part are made by. */
  protected shapeFor(shape: RowShape): RowShape {
    return shape
  }
}
