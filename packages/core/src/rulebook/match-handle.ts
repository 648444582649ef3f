import type { Seat } from '../cells/index.ts'
import type { Engine } from '../engine/index.ts'
import type { ActionOptions, Inbox, ReportOptions } from '../inputs/index.ts'
import { RefereeError } from '../kit/index.ts'
import { type InputLine, type Recorder, replayInput, type Snapshot, takeSnapshot } from '../record/index.ts'
import { explainRefusal, type Refusal, type Ruling } from '../rule/index.ts'
import type { InitialView, Update, Viewing } from '../views/index.ts'
import { describePlan, type RulebookDescription } from './describe.ts'
import type { AnyMatch, AnyView } from './match-type.ts'

/** A match as its host holds it: inputs go to the inbox, views come from the viewing. See {@link RunningMatch}. */
export class MatchHandle implements AnyMatch {
  private readonly engine: Engine
  private readonly inbox: Inbox
  private readonly viewing: Viewing
  private readonly recorder: Recorder | undefined
  private readonly seed: string
  private readonly taken: readonly string[]
  private described: RulebookDescription | undefined

  constructor(
    engine: Engine,
    inbox: Inbox,
    viewing: Viewing,
    recorder: Recorder | undefined,
    seed: string,
    taken: readonly string[],
  ) {
    this.engine = engine
    this.inbox = inbox
    this.viewing = viewing
    this.recorder = recorder
    this.seed = seed
    this.taken = taken
  }

  get rulebook(): string {
    return this.engine.plan.name
  }
  get now(): number {
    return this.engine.time.now
  }
  get nextDue(): number | undefined {
    const due = this.engine.time.nextDueTime()
    return this.inbox.closed || due === Number.POSITIVE_INFINITY ? undefined : due
  }
  get nextFlush(): number | undefined {
    const { next } = this.engine.store.latest
    return next === Number.POSITIVE_INFINITY ? undefined : next
  }
  get seats(): readonly Seat[] {
    return this.engine.seating.here()
  }
  get allSeats(): readonly Seat[] {
    return this.engine.seating.all()
  }
  get settings(): AnyMatch['settings'] {
    return this.engine.settings
  }
  get state(): AnyMatch['state'] {
    if (this.inbox.closed) throw new RefereeError('ZR_MATCH_CLOSED', { rulebook: this.rulebook })
    return this.engine.held as object as AnyMatch['state'] // roster and phases are in every plan
  }
  get faults(): AnyMatch['faults'] {
    return this.engine.faults.latest
  }
  get faultCounts(): AnyMatch['faultCounts'] {
    return Object.fromEntries(this.engine.faults.counts ?? [])
  }
  submit(seat: Seat, action: string, input: unknown, how?: ActionOptions): Ruling {
    return this.inbox.submit(seat, action, input, how ?? undefined)
  }
  options(seat: Seat, action: string, part?: unknown): readonly unknown[] {
    return this.inbox.options(seat, action, Object(part))
  }
  report(fact: string, input: unknown, options?: ReportOptions): Ruling {
    return this.inbox.report(fact, input, options ?? undefined)
  }
  reportAll(fact: string, inputs: readonly unknown[], options?: ReportOptions): readonly Ruling[] {
    return this.inbox.reportAll(fact, inputs, options ?? undefined)
  }
  direct(directive: string, input: unknown, by?: { readonly referee?: string }): Ruling {
    return this.inbox.direct(directive, input, by?.referee)
  }
  advanceTo(ms: number): void {
    this.inbox.advanceTo(ms)
  }
  view(viewer: string): AnyView {
    return JSON.parse(this.viewing.text(viewer))
  }
  get viewers(): readonly string[] {
    return [...this.viewing.viewers.keys()]
  }
  addViewer(viewer: string): InitialView {
    this.recorder?.cover()
    return this.viewing.open(viewer)
  }
  removeViewer(viewer: string): void {
    this.viewing.shut(viewer)
  }
  flush(how?: { readonly all?: boolean }): readonly Update[] {
    this.recorder?.cover()
    return this.viewing.flush(how?.all)
  }
  hash(): string {
    return this.engine.hash()
  }
  snapshot(): Snapshot {
    return takeSnapshot(this.engine, this.inbox, this.viewing, this.seed, this.taken)
  }
  close(): void {
    if (this.inbox.closed) return
    this.recorder?.end()
    this.inbox.closed = true
  }
  /** The works of the match, for tools that look into it. */
  inside(): { readonly match: AnyMatch; readonly engine: Engine; readonly inbox: Inbox } {
    return { match: this, engine: this.engine, inbox: this.inbox }
  }
  /** Hands in what a line of a record says; what was refused, as a record has it. */
  replayInput(line: InputLine): unknown {
    const refused = replayInput(this.inbox, line)
    this.inbox.cleaned = false
    return refused
  }
  explain(refusal: Refusal): string {
    const texts = this.engine.plan.rules.map(({ definition }) => definition.refusals ?? {})
    return explainRefusal(refusal, texts.find((each) => Object.hasOwn(each, refusal.code)) ?? {})
  }
  describe(): RulebookDescription {
    this.described ??= describePlan(this.engine.plan)
    return this.described
  }
}

/** Returns a match's internals, or nothing if this library did not make it. */
export const insideOf = (match: AnyMatch): ReturnType<MatchHandle['inside']> | undefined =>
  match instanceof MatchHandle ? match.inside() : undefined

/** One line of a record, done in a match that may not be the one that it was recorded in. */
export const replayLine = (match: AnyMatch, line: InputLine): unknown =>
  match instanceof MatchHandle ? match.replayInput(line) : undefined
