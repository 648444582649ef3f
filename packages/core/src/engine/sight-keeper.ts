import {
  type Audience,
  anyOf,
  audienceOf,
  noViewers,
  type Seat,
  type Sight,
  sameAudience,
  someoneLost,
} from '../cells/index.ts'
import { KeyedTable, type PolicyRow, type Store, type Undoable } from '../rows/index.ts'
import { presence } from '../sight/index.ts'
import type { HandlerRunner } from './handler-runner.ts'
import { GroupNow, SightReader } from './sight-context.ts'

type Holder = PolicyRow | GroupNow

/** The state before a change: the sights of a row, the members of a group, or what either of them has read. */
export type SightBefore =
  | { readonly row: PolicyRow; readonly sights: readonly Audience[]; readonly masks: readonly string[] }
  | { readonly group: GroupNow; readonly audience: Audience | undefined }
  | { readonly holder: Holder; readonly read: ReadonlySet<object> }

/**
 * Keeps current who sees what. At the end of a step, it asks each row and group again if its sight read something
 * that has changed. Everything can be undone, including what was read, so that a failed step leaves no trace.
 */
export class SightKeeper implements Undoable<SightBefore> {
  private readonly engine: HandlerRunner
  private readonly store: Store
  private looks: SightReader | undefined
  /** Groups that timers are seen by. They are asked within steps, so that a flush only reads them. */
  private readonly ofTimers: readonly string[]
  /** What each row and group read when it was last asked, and the inverse. */
  private read: Map<Holder, ReadonlySet<object>> | undefined
  private readBy: Map<object, Set<Holder>> | undefined
  /** Rows of which nobody sees anything until their sights can be asked: they threw when the match began or was restored. */
  private failing: Set<PolicyRow> | undefined

  constructor(engine: HandlerRunner) {
    this.engine = engine
    this.store = engine.store
    this.ofTimers = engine.plan.timers.flatMap(({ sights }) => sights.flatMap(({ group }) => group ?? []))
  }

  /** Made when a sight is first asked: most matches have none that depends on anything. */
  private get reader(): SightReader {
    this.looks ??= new SightReader(this.engine, (group, read) => {
      this.store.undo.noteOf(this, { group, audience: undefined })
      this.setRead(group, read)
    })
    return this.looks
  }

  /** Asks for the first time. */
  begin(): void {
    for (const row of new Set(this.store.takeTouched())) this.askAgain(row)
  }

  /** To be run last in a step. A sight that writes, or reads what it may not, ends the step. */
  settle(): void {
    for (const group of this.ofTimers) this.reader.group(group)
    const rows = new Set(this.store.takeTouched())
    if (this.readBy !== undefined) for (const row of this.affected(this.readBy)) rows.add(row)
    // A seat can always leave. A sight that fails without it hides its row.
    for (const row of rows)
      if (this.store.seatRemoved) this.askAgain(row)
      else this.ask(row)
    for (const row of this.failing ?? []) if (!rows.has(row)) this.askAgain(row)
  }

  /** Asks every row again: for a match whose state has been filled from a snapshot. */
  restart(): void {
    this.read = undefined
    this.readBy = undefined
    this.reader.forget()
    this.store.takeTouched()
    for (const { plan, stored } of this.engine.parts.flat())
      if (plan.shape.byRow) for (const row of stored.rows()) this.askAgain(row as PolicyRow, true)
  }

  /** True if a step could concern anybody's sight. */
  get concerned(): boolean {
    return (
      this.store.touched.length > 0 ||
      this.readBy !== undefined ||
      this.ofTimers.length > 0 ||
      (this.failing?.size ?? 0) > 0
    )
  }

  restore(before: SightBefore): void {
    if ('row' in before) {
      before.row.$sights = before.sights
      before.row.$masks = before.masks
    } else if ('group' in before) before.group.audience = before.audience
    else this.keepRead(before.holder, before.read)
  }

  /** True if this change let somebody see a row that it could not see before. A new row does not count: nobody could. */
  grew(before: SightBefore): boolean {
    if ('group' in before) {
      const { group, audience } = before
      return audience !== undefined && someoneLost(group.audience ?? noViewers, audience)
    }
    if (!('row' in before)) return false
    const { row, sights } = before
    return sights.some((each, at) => someoneLost(row.$sights[at] ?? noViewers, each))
  }

  /** Computes groups again, and finds the rows whose sight read them or anything else that this step has changed. */
  private affected(readBy: ReadonlyMap<object, ReadonlySet<Holder>>): Set<PolicyRow> {
    const rows = new Set<PolicyRow>()
    const changed = [...this.store.undo.changed()]
    const asked = new Set<GroupNow>()
    for (let at = 0; at < changed.length; at++)
      for (const holder of readBy.get(changed[at] as object) ?? []) {
        if (!(holder instanceof GroupNow)) rows.add(holder)
        else if (!asked.has(holder)) {
          asked.add(holder)
          if (this.regroup(holder)) changed.push(holder)
        }
      }
    return rows
  }

  /** Asks a group again. Returns true if it has changed. */
  private regroup(group: GroupNow): boolean {
    const { result, read } = this.reader.compute(group)
    this.setRead(group, read)
    const before = group.audience ?? noViewers
    if (sameAudience(before, result)) return false
    this.store.undo.noteOf(this, { group, audience: group.audience })
    group.audience = result
    return true
  }

  /** `restored`: its audience has not changed and only has to be computed again. */
  private ask(row: PolicyRow, restored = false): void {
    if (!row.$live) {
      this.setRead(row, new Set())
      return
    }
    const { result, read } = this.reader.trace.follow(() => this.answer(row))
    this.setRead(row, read)
    this.show(row, result.after, result.shown, restored)
  }

  /** Who sees a row now, by its facets and masks, and what the masks show. It changes nothing. */
  answer(row: PolicyRow): { readonly after: readonly Audience[]; readonly shown: readonly string[] } {
    const { rule } = this.engine.partOf(row)
    const look = this.reader.scope(rule)
    const part = row.$shape.path.slice(1).replace('/', '.')
    const { facets, masks } = row.$shape
    const run = () => ({
      after: [...facets, ...masks].map(({ policy }) => policy(row, look)),
      shown: masks.map(({ as, name, facet }) => {
        this.engine.running = `${part} ${facet < 0 ? 'derives' : 'maskedBy'} ${name}`
        return JSON.stringify(as(row, look)) ?? 'null'
      }),
    })
    return this.engine.look({ rule, label: `${part} seenWhen`, run })
  }

  /** From now on these see the row, and its masks as these texts. */
  private show(
    row: PolicyRow,
    after: readonly Audience[],
    shown: readonly string[],
    restored: boolean,
  ): void {
    if (same(row.$sights, after) && shown.every((text, at) => text === row.$masks[at])) return
    const { store } = this
    const { stored } = this.engine.partOf(row)
    store.list(row)
    const before = row.$sights
    store.undo.noteOf(this, { row, sights: before, masks: row.$masks })
    row.$sights = after
    row.$masks = shown
    if (!(stored instanceof KeyedTable)) return
    const now = presence(after)
    // A viewer that sees the row again because a step was taken back knows it by its old name.
    const isAsBefore = restored || store.broughtBack?.has(row) === true
    stored.seenDifferently(row, isAsBefore ? anyOf(presence(before), now) : presence(before), now)
  }

  /** Asks outside of a step. If the sight throws, nobody sees the row until it succeeds. */
  private askAgain(row: PolicyRow, restored = false): void {
    const label = `${row.$shape.path.slice(1).replace('/', '.')} seenWhen`
    const isAsked = this.engine.ask('sight', label, false, () => {
      this.ask(row, restored)
      return true
    })
    if (isAsked) {
      this.failing?.delete(row)
      return
    }
    this.failing ??= new Set()
    this.failing.add(row)
    this.show(row, [], [], restored)
  }

  /** Whoever may see something that happens now, of which a seat is the owner. */
  audience(sights: readonly Sight[], owner: Seat | undefined, rule: number): Audience {
    return audienceOf(sights, owner, this.reader.scope(rule))
  }

  private setRead(holder: Holder, read: ReadonlySet<object>): void {
    const before = this.read?.get(holder)
    if (before === undefined && read.size === 0) return
    this.store.undo.noteOf(this, { holder, read: before ?? new Set() })
    this.keepRead(holder, read)
  }

  private keepRead(holder: Holder, read: ReadonlySet<object>): void {
    this.read ??= new Map()
    this.readBy ??= new Map()
    const { readBy } = this
    for (const each of this.read.get(holder) ?? []) {
      const holders = readBy.get(each)
      holders?.delete(holder)
      if (holders?.size === 0) readBy.delete(each)
    }
    if (read.size === 0) this.read.delete(holder)
    else this.read.set(holder, read)
    for (const each of read) {
      const holders = readBy.get(each)
      if (holders === undefined) readBy.set(each, new Set([holder]))
      else holders.add(holder)
    }
  }
}

const same = (a: readonly Audience[], b: readonly Audience[]): boolean =>
  a.length === b.length && a.every((audience, at) => sameAudience(audience, b[at] ?? noViewers))
