import { bytesToHex } from '@noble/hashes/utils.js'
import { type Seed, seedKey } from '../chance/index.ts'
import { RefereeError } from '../kit/index.ts'
import { Engine, Inbox, type Spec, Viewing } from '../match/index.ts'
import {
  type RecordContent,
  Recorder,
  type Replayed,
  readRecord,
  replayInto,
  type Sink,
} from '../record/index.ts'
import type { AnyRulebook, Rulebook } from './define-rulebook.ts'
import { describePlan } from './describe.ts'
import type { AnyMatch, AnyView, Match, SettingsOf } from './match-type.ts'

/** What a match begins with. */
export interface Beginning<S extends Spec> {
  readonly seed: Seed
  /** Over those of the rulebook. */
  readonly settings?: SettingsOf<S>
  /** Takes the record, a line at a time. */
  readonly record?: Sink
}

/**
 * Begins a match: an empty lobby at 0 ms.
 *
 * @example
 * ```ts
 * const match = beginMatch(regatta, { seed: 'fair-1' })
 * match.direct('roster.join', { seat: 'otter', name: 'Otter' })
 * ```
 * @throws ZR_CHANCE_BAD_SEED, ZR_SETTING_INVALID, ZR_SETTING_UNKNOWN_RULE, ZR_SETTING_FIXED
 */
export function beginMatch<S extends Spec>(book: Rulebook<S>, given: Beginning<NoInfer<S>>): Match<S> {
  return start(book, given).match as object as Match<S> // the rulebook's types promise what the engine does by name
}

/** The same for a rulebook whose types are not known, as hosts and tools begin it. */
export function beginAnyMatch(
  book: AnyRulebook,
  given: { readonly seed: Seed; readonly settings?: object; readonly record?: Sink },
): AnyMatch {
  return start(book, given).match
}

/** Whether a match is one of this rulebook, and so has its types. */
export function isMatchOf<S extends Spec>(book: Rulebook<S>, match: object): match is Match<S> {
  return 'rulebook' in match && match.rulebook === book.name
}

/** A match and how the record's replay into it went. */
export interface ReplayedMatch extends Replayed {
  readonly match: AnyMatch
}

/**
 * Plays a record again, up to a match time (ms) if one is given, and compares every ruling and hash.
 * @throws ZR_RECORD_FOREIGN, ZR_RECORD_UNREADABLE, ZR_RECORD_OTHER_RULEBOOK, ZR_RECORD_OTHER_PLAN
 */
export function replayRecord(
  book: AnyRulebook,
  record: string | RecordContent,
  options: { readonly until?: number } = {},
): ReplayedMatch {
  const content = typeof record === 'string' ? readRecord(record) : record
  const { rulebook, plan, seed, settings } = content.header
  if (rulebook !== book.name)
    throw new RefereeError('ZR_RECORD_OTHER_RULEBOOK', { wanted: rulebook, got: book.name })
  if (plan !== book.plan.digest) throw new RefereeError('ZR_RECORD_OTHER_PLAN', { rulebook })
  const { match, engine, inbox } = start(book, { seed: seedFrom(seed), settings })
  return { match, ...replayInto(engine, inbox, content, options.until) }
}

function start(
  book: AnyRulebook,
  given: { readonly seed: Seed; readonly settings?: object; readonly record?: Sink },
): { readonly match: AnyMatch; readonly engine: Engine; readonly inbox: Inbox } {
  const settings = { ...given.settings } as { readonly [rule: string]: unknown }
  const known = book.plan.rules.map(({ name }) => name)
  for (const rule of Object.keys(settings))
    if (!known.includes(rule)) throw new RefereeError('ZR_SETTING_UNKNOWN_RULE', { rule, known })
  const engine = new Engine(book.plan, seedKey(given.seed), settings)
  const inbox = new Inbox(engine)
  const viewing = new Viewing(engine, inbox)
  const recorder = given.record && new Recorder(engine, given.record, seedText(given.seed), settings)
  inbox.journal = recorder
  const match: AnyMatch = {
    rulebook: book.name,
    get now() {
      return engine.time.now
    },
    get nextDue() {
      const due = engine.time.soonest()
      return inbox.closed || due === Number.POSITIVE_INFINITY ? undefined : due
    },
    get seats() {
      return engine.seating.all()
    },
    settings: engine.settings,
    state: Object.fromEntries(
      book.plan.rules.map(({ name, index }) => [
        name,
        engine.handles(index) as { readonly [part: string]: unknown },
      ]),
    ),
    faults: engine.faults,
    submit: (seat, action, input, how) => inbox.submit(seat, action, input, how),
    report: (fact, input, seen) => inbox.report(fact, input, seen),
    reportAll: (fact, inputs, seen) => inbox.reportAll(fact, inputs, seen),
    direct: (directive, input, by) => inbox.direct(directive, input, by?.referee),
    advanceTo: (ms) => inbox.advanceTo(ms),
    view: (viewer) => JSON.parse(viewing.text(viewer)) as AnyView,
    open: (viewer) => viewing.open(viewer),
    shut: (viewer) => viewing.shut(viewer),
    flush: () => viewing.flush(),
    hash: () => engine.hash(),
    close() {
      if (inbox.closed) return
      inbox.closed = true
      recorder?.end()
    },
    describe: () => describePlan(book.plan),
  }
  return { match, engine, inbox }
}

/** Bytes are written so that they cannot be taken for a text. */
const HEX = 'hex:'
const seedText = (seed: Seed): string => (typeof seed === 'string' ? seed : HEX + bytesToHex(seed))
const seedFrom = (text: string): Seed =>
  text.startsWith(HEX)
    ? Uint8Array.from(text.slice(HEX.length).match(/../g) ?? [], (byte) => Number.parseInt(byte, 16))
    : text
