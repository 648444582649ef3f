import { bytesToHex } from '@noble/hashes/utils.js'
import { KeyedIds, type Seed, seedKey } from '../chance/index.ts'
import { assertOptions, RefereeError } from '../kit/index.ts'
import { Engine, type Fault, Inbox, type Spec, Viewing } from '../match/index.ts'
import {
  loadSnapshot,
  type Migrated,
  migratedFor,
  type RecordContent,
  Recorder,
  type Replayed,
  readRecord,
  readTail,
  replayInto,
  type Sink,
  SNAPSHOT_VERSION,
  type Snapshot,
} from '../record/index.ts'
import type { IdMaker } from '../state/index.ts'
import type { AnyRulebook, Rulebook } from './define-rulebook.ts'
import { HeldMatch } from './held-match.ts'
import type { AnyMatch, Match, SettingsOf } from './match-type.ts'

const beginning = ['seed', 'with', 'preset', 'settings', 'record', 'onFault'] as const

/** What a match begins with. */
export interface Beginning<S extends Spec, O extends Spec = never> {
  readonly seed: Seed
  /** Which of the optional rules are in it. */
  readonly with?: readonly O['name'][]
  /** Settings of the rulebook under a name, over its own. */
  readonly preset?: string
  /** Over those of the rulebook and of the preset. */
  readonly settings?: SettingsOf<S | O>
  /** Takes the record, a line at a time. */
  readonly record?: Sink
  /** Told at once of each fault: code of the rulebook that threw. What it throws is a fault of its own. */
  readonly onFault?: (fault: Fault) => void
}

/**
 * Begins a match: an empty lobby at 0 ms.
 *
 * @example
 * ```ts
 * const match = beginMatch(regatta, { seed: 'fair-1' })
 * match.direct('roster.join', { seat: 'otter', name: 'Otter' })
 * ```
 * @throws ZR_CHANCE_BAD_SEED, ZR_SETTING_INVALID, ZR_SETTING_UNKNOWN_RULE, ZR_SETTING_FIXED,
 *   ZR_RULEBOOK_UNKNOWN_OPTION, ZR_RULEBOOK_UNKNOWN_PRESET, ZR_OPTION_UNKNOWN
 */
export function beginMatch<S extends Spec, O extends Spec = never>(
  book: Rulebook<S, O>,
  given: Beginning<NoInfer<S>, NoInfer<O>>,
): Match<S, O> {
  assertOptions('beginMatch', given, beginning)
  return start(book, given).match as object as Match<S, O> // the rulebook's types promise what the engine does by name
}

/** The same for a rulebook whose types are not known, as hosts and tools begin it. */
export function beginAnyMatch(
  book: AnyRulebook,
  given: {
    readonly seed: Seed
    readonly with?: readonly string[]
    readonly preset?: string
    readonly settings?: object
    readonly record?: Sink
    readonly onFault?: (fault: Fault) => void
  },
): AnyMatch {
  assertOptions('beginAnyMatch', given, beginning)
  return start(book, given).match
}

/** Whether a match is one of this rulebook, and so has its types. */
export function isMatchOf<S extends Spec, O extends Spec = never>(
  book: Rulebook<S, O>,
  match: object,
): match is Match<S, O> {
  return 'rulebook' in match && match.rulebook === book.name
}

/** How a match goes on. */
export interface Resuming {
  /** What the record went on with after the snapshot, to be played again: every ruling and hash must be the same. */
  readonly tail?: string
  /** Takes the lines from here on; they belong behind those of the former record. */
  readonly record?: Sink
  /** Told at once of each fault. */
  readonly onFault?: (fault: Fault) => void
  /**
   * Changes a snapshot of an older version of the rulebook into one of this version, row by row and cell by cell by name;
   * `(old) => old` where nothing has to be changed. What it does not have gets its first value, and what nobody asks for
   * any more is dropped.
   */
  readonly migrate?: (old: Snapshot) => Snapshot
  /** Told what a migrated snapshot had less and more than this version. */
  readonly onMigrated?: (apart: Migrated) => void
}

/**
 * Goes on from a snapshot as if the match had never stopped; every viewer begins with a whole view.
 * @throws ZR_SNAPSHOT_FOREIGN, ZR_SNAPSHOT_DAMAGED, ZR_SNAPSHOT_TAIL_DIFFERS, ZR_RECORD_UNREADABLE
 */
export function resumeMatch<S extends Spec, O extends Spec = never>(
  book: Rulebook<S, O>,
  snapshot: Snapshot,
  given: Resuming = {},
): Match<S, O> {
  return resumeAnyMatch(book, snapshot, given) as object as Match<S, O>
}

/** The same for a rulebook whose types are not known, as hosts and tools resume it. */
export function resumeAnyMatch(book: AnyRulebook, snapshot: Snapshot, given: Resuming = {}): AnyMatch {
  assertOptions('resumeMatch', given, ['tail', 'record', 'onFault', 'migrate', 'onMigrated'])
  const { snapshot: kind, version, rulebook, plan } = Object(snapshot) as Partial<Snapshot>
  const foreign = (why: string): RefereeError => new RefereeError('ZR_SNAPSHOT_FOREIGN', { why })
  if (kind !== 'zinc-referee' || version !== SNAPSHOT_VERSION) throw foreign('it is not of this format')
  if (rulebook !== book.name) throw foreign(`it is of rulebook '${rulebook}', not '${book.name}'`)
  const migrates = plan !== book.planWith(Object(snapshot).with ?? []).digest
  if (migrates && given.migrate === undefined) throw foreign('the rulebook has changed since')
  const from = migrates && given.migrate !== undefined ? given.migrate(snapshot) : snapshot
  const { match, engine, inbox } = start(book, {
    seed: seedFrom(from.seed),
    with: from.with ?? [],
    from,
    ...(migrates && { migrated: given.onMigrated ?? (() => undefined) }),
    ...(given.record && { record: given.record }),
    ...(given.onFault && { onFault: given.onFault }),
  })
  if (given.tail !== undefined) {
    const { journal } = inbox
    inbox.journal = undefined // these lines are in the record already
    const { differs } = replayInto(engine, inbox, { lines: readTail(given.tail) })
    if (differs !== undefined) throw new RefereeError('ZR_SNAPSHOT_TAIL_DIFFERS', differs)
    inbox.cleaned = false
    inbox.journal = journal
  }
  return match
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
  options: { readonly until?: number; readonly onFault?: (fault: Fault) => void } = {},
): ReplayedMatch {
  const content = typeof record === 'string' ? readRecord(record) : record
  const { rulebook, plan, seed, settings, with: taken = [] } = content.header
  if (rulebook !== book.name)
    throw new RefereeError('ZR_RECORD_OTHER_RULEBOOK', { wanted: rulebook, got: book.name })
  if (taken.some((rule) => !book.optional.includes(rule)) || plan !== book.planWith(taken).digest)
    throw new RefereeError('ZR_RECORD_OTHER_PLAN', { rulebook })
  const { match, engine, inbox } = start(book, {
    seed: seedFrom(seed),
    settings,
    with: taken,
    ...(options.onFault && { onFault: options.onFault }),
  })
  return { match, ...replayInto(engine, inbox, content, options.until) }
}

function start(
  book: AnyRulebook,
  given: {
    readonly seed: Seed
    readonly with?: readonly string[]
    readonly preset?: string
    readonly settings?: object
    readonly record?: Sink
    readonly onFault?: (fault: Fault) => void
    readonly from?: Snapshot
    /** The snapshot is of an older version; told how far that was apart. */
    readonly migrated?: (apart: Migrated) => void
    /** The snapshot was changed: its hash is not compared. */
    readonly changed?: boolean
    readonly ids?: IdMaker
  },
): { readonly match: AnyMatch; readonly engine: Engine; readonly inbox: Inbox } {
  const taken = book.optional.filter((rule) => given.with?.includes(rule))
  const plan = book.planWith(given.with ?? [])
  const settings = settingsFor(book, given.preset, given.settings)
  const known = plan.rules.map(({ name }) => name)
  for (const rule of Object.keys(settings))
    if (!known.includes(rule)) throw new RefereeError('ZR_SETTING_UNKNOWN_RULE', { rule, known })
  const engine = new Engine(plan, seedKey(given.seed), settings, given)
  const inbox = new Inbox(engine)
  if (given.from !== undefined) {
    const { snapshot, ...apart } =
      given.migrated === undefined ? { snapshot: given.from } : migratedFor(engine, given.from)
    loadSnapshot(engine, inbox, snapshot, given.migrated === undefined && given.changed !== true)
    if ('filled' in apart) given.migrated?.(apart)
  }
  const viewing = new Viewing(engine, inbox)
  const recorder = given.record && new Recorder(engine, given.record)
  if (given.from === undefined) recorder?.begin(seedText(given.seed), settings, taken)
  inbox.journal = recorder
  const match = new HeldMatch(engine, inbox, viewing, recorder, seedText(given.seed), taken)
  return { match, engine, inbox }
}

/** A match with its inner works, for tools that look into it. */
export interface OpenMatch {
  readonly match: AnyMatch
  readonly engine: Engine
  readonly inbox: Inbox
}

/**
 * Goes on from a snapshot that a tool has changed, with another seed for what chance will give or other ids of rows, if
 * they are given. Its hash is not compared.
 */
export function resumeChanged(
  book: AnyRulebook,
  from: Snapshot,
  { seed = from.seed, ids = idsOf(from) }: { seed?: string; ids?: IdMaker } = {},
): OpenMatch {
  return start(book, { seed: seedFrom(seed), with: from.with ?? [], from, changed: true, ids })
}

/** The ids that a match of this snapshot makes. */
export const idsOf = ({ seed }: Snapshot): IdMaker => new KeyedIds(seedKey(seedFrom(seed)))

/** Those of a preset, under those of the match. */
function settingsFor(
  { name, presets }: AnyRulebook,
  preset: string | undefined,
  own: object = {},
): { readonly [rule: string]: unknown } {
  if (preset === undefined) return { ...own }
  if (!Object.hasOwn(presets, preset))
    throw new RefereeError('ZR_RULEBOOK_UNKNOWN_PRESET', {
      rulebook: name,
      preset,
      known: Object.keys(presets),
    })
  const merged: Record<string, unknown> = { ...presets[preset] }
  for (const [rule, settings] of Object.entries(own)) merged[rule] = { ...Object(merged[rule]), ...settings }
  return merged
}

/** Bytes are written so that they cannot be taken for a text. */
const HEX = 'hex:'
const seedText = (seed: Seed): string => (typeof seed === 'string' ? seed : HEX + bytesToHex(seed))
const seedFrom = (text: string): Seed =>
  text.startsWith(HEX)
    ? Uint8Array.from(text.slice(HEX.length).match(/../g) ?? [], (byte) => Number.parseInt(byte, 16))
    : text
