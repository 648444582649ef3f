import { KeyedIds, seedKey } from '../chance/index.ts'
import type { Fault } from '../engine/index.ts'
import { assertOptions, RefereeError } from '../kit/index.ts'
import {
  type Difference,
  type Migrated,
  readTail,
  replayInto,
  type Sink,
  SNAPSHOT_VERSION,
  type Snapshot,
} from '../record/index.ts'
import type { IdMaker } from '../rows/index.ts'
import type { Spec } from '../rule/index.ts'
import type { AnyRulebook, Rulebook } from './define-rulebook.ts'
import type { AnyMatch, Match } from './match-type.ts'
import { outlinesApart } from './outline.ts'
import { type OpenMatch, type Started, seedFrom, start } from './start-match.ts'

/** Options of `resumeMatch`. */
export interface ResumeOptions {
  /** What the record went on with after the snapshot, to be played again. */
  readonly tail?: string
  /**
   * What becomes of a tail that gives other rulings or hashes than were recorded: it is refused (default), or the match
   * goes on with what the rules make of it now.
   */
  readonly ifTailDiffers?: 'refuse' | 'go-on'
  /** Called with every line of the tail that gave something else, where the match goes on. */
  readonly onTailDiffers?: (differences: readonly Difference[]) => void
  /**
   * Takes the lines from here on; they belong behind those of the former record. Where the rules are others now, the first
   * of them holds a snapshot and says why.
   */
  readonly record?: Sink
  /** Takes a record of its own, which begins with a snapshot. */
  readonly newRecord?: Sink
  /** Called at once for each fault. */
  readonly onFault?: (fault: Fault) => void
  /**
   * Changes a snapshot of an older version of the rulebook into one of this version, row by row and cell by cell by name;
   * `(old) => old` where nothing has to be changed. What it does not have gets its first value, and what nobody asks for
   * any more is dropped.
   */
  readonly migrate?: (old: Snapshot) => Snapshot
  /** Called with what a migrated snapshot had less and more than this version. */
  readonly onMigrated?: (apart: Migrated) => void
}
const resuming = [
  'tail',
  'ifTailDiffers',
  'onTailDiffers',
  'record',
  'newRecord',
  'onFault',
  'migrate',
  'onMigrated',
] as const

/**
 * Goes on from a snapshot as if the match had never stopped; every viewer begins with a whole view.
 * @throws ZR_SNAPSHOT_FOREIGN, ZR_SNAPSHOT_DAMAGED, ZR_SNAPSHOT_TAIL_DIFFERS, ZR_RECORD_UNREADABLE, ZR_OPTION_UNKNOWN
 */
export function resumeMatch<S extends Spec, O extends Spec = never>(
  book: Rulebook<S, O>,
  snapshot: Snapshot,
  given: ResumeOptions = {},
): Match<S, O> {
  return resumeAnyMatch(book, snapshot, given) as object as Match<S, O>
}

/** The same for a rulebook whose types are not known, as hosts and tools resume it. */
export function resumeAnyMatch(book: AnyRulebook, snapshot: Snapshot, given: ResumeOptions = {}): AnyMatch {
  assertOptions('resumeMatch', given, resuming)
  if (given.record !== undefined && given.newRecord !== undefined)
    throw new RefereeError('ZR_MATCH_MISUSED', {
      what: "resumeMatch was given both 'record' and 'newRecord'",
      fix: 'Give one of them',
    })
  const tail = given.tail === undefined ? undefined : readTail(given.tail)
  const old = tail?.from ?? snapshot
  const changed = changedSince(book, old)
  if (changed !== undefined && given.migrate === undefined) throw foreign(changed)
  const from = changed !== undefined && given.migrate !== undefined ? given.migrate(old) : old
  const record = given.record ?? given.newRecord
  const started = start(book, {
    seed: seedFrom(from.seed),
    with: from.with ?? [],
    from,
    ...(changed !== undefined && { migrated: given.onMigrated ?? (() => undefined) }),
    ...(record && { record }),
    ...(given.onFault && { onFault: given.onFault }),
  })
  const differences = tail === undefined ? [] : replayTail(started, tail, given.ifTailDiffers)
  if (differences.length > 0) given.onTailDiffers?.(differences)
  const [first] = differences
  const why =
    changed ??
    (first && `line ${first.line} was recorded with the ${first.recorded}, and gives the ${first.replayed}`)
  if (given.newRecord !== undefined || why !== undefined)
    started.recorder?.begin(from.seed, from.with ?? [], started.match.snapshot(), why)
  return started.match
}

/** Plays the lines after the snapshot. They are in the record already. */
function replayTail(
  { engine, inbox }: Started,
  tail: ReturnType<typeof readTail>,
  policy: ResumeOptions['ifTailDiffers'],
): readonly Difference[] {
  const { journal } = inbox
  const differences: Difference[] = []
  const onDiffers = policy === 'go-on' ? (each: Difference) => differences.push(each) : undefined
  inbox.journal = undefined
  const { differs } = replayInto(engine, inbox, tail, { onDiffers })
  if (differs !== undefined) throw new RefereeError('ZR_SNAPSHOT_TAIL_DIFFERS', differs)
  inbox.cleaned = false
  inbox.journal = journal
  return differences
}

/**
 * What has changed in the rulebook since the snapshot was taken, in words; nothing where it is of this version.
 * @throws ZR_SNAPSHOT_FOREIGN where it is none, or of another rulebook
 */
function changedSince(book: AnyRulebook, snapshot: Snapshot): string | undefined {
  const { snapshot: kind, version, rulebook, plan, outline = {} } = Object(snapshot) as Partial<Snapshot>
  if (kind !== 'zinc-referee' || version !== SNAPSHOT_VERSION) throw foreign('it is not of this format')
  if (rulebook !== book.name) throw foreign(`it is of rulebook '${rulebook}', not '${book.name}'`)
  const now = book.planWith(snapshot.with ?? [])
  if (plan === now.digest) return undefined
  return `the rulebook has changed since: ${outlinesApart(outline, now.outline)}`
}

const foreign = (why: string): RefereeError => new RefereeError('ZR_SNAPSHOT_FOREIGN', { why })

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
