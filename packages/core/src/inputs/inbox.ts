import { InvalidInput, type Seat } from '../cells/index.ts'
import { changeSettings, type Engine, parseInput } from '../engine/index.ts'
import { assertWhole, hashText, jsonText, RefereeError } from '../kit/index.ts'
import type { InputPlan } from '../plan/index.ts'
import { allowed, type Refusal, type Ruling, refuse } from '../rule/index.ts'
import { decideFact, decideFacts } from './decide-facts.ts'
import { fireDue } from './fire-timers.ts'
import { type ActionOptions, givenTags, type ReportOptions, refusalForTags, tagsOf } from './input-tags.ts'
import type { Entry, Journal } from './journal.ts'
import { cleanedInput, payloadText, refuseInput } from './parsed-input.ts'
import { RememberedIds } from './remembered-ids.ts'

type Single = 'submit' | 'report' | 'direct'
interface From {
  readonly seat?: Seat
  readonly how?: (ActionOptions & ReportOptions) | undefined
  readonly referee?: string | undefined
  readonly text?: string | undefined
}

const accepted: readonly Ruling[] = [allowed]
const SET = 'match.set'

/** False for what only code without types sends. It is refused, and a record could not hold it. */
const isNamed = (name: unknown, seat: unknown): boolean =>
  typeof name === 'string' && typeof seat === 'string'

/** Takes the inputs of a match, checks them, and has the engine carry them out. */
export class Inbox {
  /** Set by the code that records the match. */
  journal: Journal | undefined
  closed = false
  /** While a record is replayed: schemas have already turned its inputs into what handlers get. */
  cleaned = false
  private readonly engine: Engine
  readonly ids: RememberedIds = new RememberedIds()
  private lastAction: Map<number, string | number> | undefined

  constructor(engine: Engine) {
    this.engine = engine
  }

  submit(seat: Seat, name: string, input: unknown, came?: ActionOptions): Ruling {
    if (this.closed) return refuse('closed')
    const how = came ?? {}
    const early = this.refusalForSeat(seat, name) ?? refusalForTags(how)
    if (early) return this.recorded('submit', name, input, early, { seat, how })
    const plan = this.plan(name, 'action')
    const parsed = plan && parseInput(this.engine, plan, input, seat, this.cleaned)
    const given = cleanedInput(input, parsed)
    // Parsed members are in the order of the cells, so the same input gives the same text.
    const text = how.id === undefined && this.journal === undefined ? undefined : jsonText(given)
    const payload = how.id === undefined ? '' : hashText(name + payloadText(plan, parsed, text))
    // Read it now: a seat that leaves may have no player afterwards.
    const player = this.engine.seating.player(seat)
    const before = how.id === undefined ? undefined : this.ids.find(player, how.id)
    if (before === 'stale')
      return this.recorded('submit', name, input, refuse('stale-id', { id: how.id }), { seat, how })
    if (before !== undefined)
      return before.payload === payload
        ? parsed instanceof InvalidInput
          ? before.ruling
          : this.shown(seat, before.ruling)
        : this.recorded('submit', name, input, refuse('id-reused', { id: how.id }), { seat, how })
    const tags = tagsOf(how, seat)
    const from = { seat, how, text }
    this.recordIfKept('submit', name, given, from)
    const ruling =
      plan === undefined || parsed === undefined
        ? refuse('unknown-action', { action: name })
        : parsed instanceof InvalidInput
          ? refuseInput(parsed)
          : this.engine.decide(plan, seat, parsed, tags)
    this.recorded('submit', name, given, ruling, from)
    if (how.id !== undefined) {
      this.ids.keep(player, { id: how.id, payload, ruling })
      this.lastAction ??= new Map()
      this.lastAction.set(player, how.id)
    }
    this.after()
    // An input that could not be parsed is answered as it was sent.
    return parsed instanceof InvalidInput ? ruling : this.shown(seat, ruling)
  }

  /** A ruling as its seat is sent it: with rows by the ids that it knows. */
  private shown(seat: Seat, ruling: Ruling): Ruling {
    if (ruling.ok || ruling.details === undefined) return ruling
    return refuse(ruling.code, Object(this.engine.shownTo(seat, ruling.details)))
  }

  /** Returns the ruling that an input would get now. Nothing of it is kept or recorded. */
  tried(kind: InputPlan['kind'], name: string, input: unknown, seat?: Seat): Ruling {
    if (seat !== undefined) {
      const early = this.refusalForSeat(seat, name)
      if (early) return early
    }
    const plan = this.plan(name, kind)
    if (plan === undefined) return refuse('unknown-action', { name })
    const parsed = parseInput(this.engine, plan, input, seat, this.cleaned)
    if (parsed instanceof InvalidInput) return refuseInput(parsed)
    const ruling = this.engine.trial(() => this.engine.decideNow(plan, seat, parsed, undefined))
    return seat === undefined ? ruling : this.shown(seat, ruling)
  }

  /** The inputs with which this action would be accepted from this seat now, out of the rule's candidates. */
  options(seat: Seat, name: string, part: object = {}): readonly unknown[] {
    const plan = this.plan(name, 'action')
    if (this.closed || plan === undefined || this.refusalForSeat(seat, name)) return []
    return this.engine.options.of(plan, seat, part)
  }

  report(name: string, input: unknown, how?: ReportOptions): Ruling {
    const early = this.closed ? refuse('closed') : how && refusalForTags(how)
    if (early) return early
    const plan = this.plan(name, 'fact')
    const parsed = plan && parseInput(this.engine, plan, input, undefined, this.cleaned)
    const from = this.journal && { how: givenTags(how) }
    if (from !== undefined) this.recordIfKept('report', name, cleanedInput(input, parsed), from)
    const ruling =
      plan === undefined || parsed === undefined
        ? refuse('unknown-action', { fact: name })
        : parsed instanceof InvalidInput
          ? refuseInput(parsed)
          : decideFact(this.engine, plan, parsed, how)
    if (from !== undefined) this.recorded('report', name, cleanedInput(input, parsed), ruling, from)
    this.after()
    return ruling
  }

  /** All of them are one step: simultaneous. One that is refused does not spoil the others. */
  reportAll(name: string, inputs: readonly unknown[], how?: ReportOptions): readonly Ruling[] {
    const early = this.closed ? refuse('closed') : how && refusalForTags(how)
    if (early) return inputs.map(() => early)
    const plan = this.plan(name, 'fact')
    const parsed =
      plan && inputs.map((input) => parseInput(this.engine, plan, input, undefined, this.cleaned))
    const entry = (rulings: readonly Ruling[]): Entry => ({
      t: this.engine.time.now,
      kind: 'reportAll',
      name,
      input: inputs.map((input, at) => cleanedInput(input, parsed?.[at])),
      how: givenTags(how),
      rulings,
    })
    const { journal } = this
    let isRecorded = false
    const record = (rulings: readonly Ruling[]): void => {
      if (isNamed(name, '')) journal?.input(entry(rulings))
      isRecorded = true
    }
    const rulings =
      plan === undefined || parsed === undefined
        ? inputs.map(() => refuse('unknown-action', { fact: name }))
        : decideFacts(this.engine, plan, parsed, how ?? {}, record)
    if (!isRecorded) record(rulings)
    this.after()
    return rulings
  }

  direct(name: string, input: unknown, referee: string | undefined): Ruling {
    if (this.closed) return refuse('closed')
    if (name === SET) return this.set(input, referee)
    const plan = this.plan(name, 'directive')
    const parsed = plan && parseInput(this.engine, plan, input, undefined, this.cleaned)
    const given = cleanedInput(input, parsed)
    this.recordIfKept('direct', name, given, { referee })
    const ruling =
      plan === undefined || parsed === undefined
        ? refuse('unknown-action', { directive: name })
        : parsed instanceof InvalidInput
          ? refuseInput(parsed)
          : this.engine.perform(name, plan.handler, parsed, referee)
    this.recorded('direct', name, given, ruling, { referee })
    this.after()
    return ruling
  }

  /** A live setting is the match's own directive: every rule has settings. */
  private set(input: unknown, referee: string | undefined): Ruling {
    const { rule, settings } = Object(input) as { readonly rule?: unknown; readonly settings?: unknown }
    this.recordIfKept('direct', SET, input, { referee })
    const ruling =
      typeof rule !== 'string' || typeof settings !== 'object' || settings === null
        ? refuse('bad-input', { issues: ["'rule' must be a name and 'settings' an object"] })
        : this.engine.step(SET, () => changeSettings(this.engine, rule, settings) ?? undefined)
    this.recorded('direct', SET, input, ruling, { referee })
    this.after()
    return ruling
  }

  /** @throws ZR_MATCH_TIME_BACK, ZR_TIME_NOT_WHOLE */
  advanceTo(ms: number): void {
    assertWhole('The time to advance to', ms)
    if (ms < this.engine.time.now)
      throw new RefereeError('ZR_MATCH_TIME_BACK', { now: this.engine.time.now, asked: ms })
    if (this.engine.store.open) throw new RefereeError('ZR_MATCH_REENTERED', { input: 'advanceTo' })
    fireDue(this.engine, ms, this.journal)
    this.engine.time.now = ms
  }

  /** By player, the last action ids decided since this was last asked. */
  takeDone(): ReadonlyMap<number, string | number> | undefined {
    const done = this.lastAction
    this.lastAction = undefined
    return done
  }

  private refusalForSeat(seat: Seat, name: string): Refusal | undefined {
    if (!this.engine.seating.has(seat)) return refuse('unknown-seat', { seat })
    if (this.engine.seating.isGone(seat)) return refuse('left', { seat })
    return this.engine.faultRuns?.isLimited(seat) === true && this.plan(name, 'action')?.neverLimited !== true
      ? refuse('fault-limit', { seat })
      : undefined
  }

  private plan<K extends InputPlan['kind']>(
    name: string,
    kind: K,
  ): Extract<InputPlan, { readonly kind: K }> | undefined {
    const plan = this.engine.plan.inputs.get(name)
    // The kind that was asked for decides the type of the plan.
    return plan?.kind === kind ? (plan as Extract<InputPlan, { readonly kind: K }>) : undefined
  }

  /** Writes an input's line just before its step is kept, and only if it is kept. */
  private recordIfKept(kind: Single, name: string, input: unknown, from: From): void {
    const { journal, engine } = this
    if (journal === undefined) return
    engine.onKeep = () => journal.input({ t: engine.time.now, kind, name, input, rulings: accepted, ...from })
  }

  /** Writes the line of an input that was refused: what was accepted is recorded already. */
  private recorded(kind: Single, name: string, input: unknown, ruling: Ruling, from: From): Ruling {
    const { journal, engine } = this
    engine.onKeep = undefined
    if (journal !== undefined && !ruling.ok && isNamed(name, kind === 'submit' ? from.seat : ''))
      journal.input({ t: engine.time.now, kind, name, input, rulings: [ruling], ...from })
    return ruling
  }

  /**
   * Fires timers that a step made due at its own millisecond. So nothing is ever due between two inputs, and it makes
   * no difference who looks in between.
   */
  private after(): void {
    fireDue(this.engine, this.engine.time.now, this.journal)
    this.journal?.settled()
  }
}
