import { type Engine, FaultRuns, type KeptStep, type SavedRuns } from '../engine/index.ts'
import type { Inbox } from '../inputs/index.ts'
import { frozenCopy, isRefereeError, RefereeError } from '../kit/index.ts'
import { type CompiledRow, type PolicyRow, type SavedPart, SeatTable } from '../rows/index.ts'
import { PendingNotice, type SavedNotice } from '../sight/index.ts'
import type { Viewing } from '../views/index.ts'

/** The version of the snapshot format that this package writes and reads. */
export const SNAPSHOT_VERSION = 3

/** Everything that decides how a match goes on, as JSON. It holds hidden state and the seed: keep it on the server. */
export interface Snapshot {
  /** Names the format. */
  readonly snapshot: 'zinc-referee'
  /** The version of the format. */
  readonly version: number
  /** The name of the rulebook. */
  readonly rulebook: string
  /** The hash of its plan. A snapshot fits only this plan, unless it is migrated. */
  readonly plan: string
  /** See {@link Header}: an error can say what changed. */
  readonly outline: { readonly [name: string]: string }
  /** The seed as text. */
  readonly seed: string
  /** Settings in force, by rule. */
  readonly settings: { readonly [rule: string]: unknown }
  /** The optional rules in use, if there are any. */
  readonly with?: readonly string[]
  /** The number of the bout. */
  readonly bout: number
  /** The clocks and the timers that run. */
  readonly time: ReturnType<Engine['time']['save']>
  /** The seats, their numbers and players. */
  readonly seats: ReturnType<Engine['seating']['save']>
  /** By 'rule.part'. */
  readonly parts: { readonly [part: string]: SavedPart }
  /** Numbers drawn from each stream of chance. */
  readonly streams: { readonly [stream: string]: number }
  /** Ids of actions that are remembered, by player. */
  readonly ids: ReturnType<Inbox['ids']['save']>
  /** Faults in a row, if there are any. */
  readonly faults?: SavedRuns | undefined
  /** Events whose notices have not expired. */
  readonly notices?: readonly SavedNotice[]
  /** Steps that can be taken back, if there are any. */
  readonly past?: readonly KeptStep[]
  /** The state's hash. A damaged snapshot gives another one. */
  readonly hash: string
}

export function takeSnapshot(
  engine: Engine,
  inbox: Inbox,
  viewing: Viewing,
  seed: string,
  taken: readonly string[],
): Snapshot {
  const { name, digest, outline } = engine.plan
  const kept = engine.past?.save() ?? []
  const faults = engine.faultRuns?.save()
  const notices = viewing.recently().map((each) => each.save())
  const drawn = [...engine.streams].filter(([, stream]) => stream.drawn > 0)
  return {
    snapshot: 'zinc-referee',
    version: SNAPSHOT_VERSION,
    rulebook: name,
    plan: digest,
    outline,
    seed,
    settings: engine.settings,
    ...(taken.length > 0 && { with: taken }),
    bout: engine.bout,
    time: engine.time.save(),
    seats: engine.seating.save(),
    parts: Object.fromEntries(engine.parts.flat().map(({ plan, stored }) => [nameOf(plan), stored.save()])),
    streams: Object.fromEntries(drawn.map(([stream, state]) => [stream, state.drawn])),
    ids: inbox.ids.save(),
    ...(faults && { faults }),
    ...(notices.length > 0 && { notices }),
    ...(kept.length > 0 && { past: kept }),
    hash: engine.hash(),
  }
}

/** The name of a part of the state, such as 'vitals.body'. */
export const nameOf = ({ shape: { path } }: { readonly shape: { readonly path: string } }): string =>
  path.slice(1).replace('/', '.')

/**
 * Fills a match that has not begun to run. With `compare`, the state must give the snapshot's hash.
 * @throws ZR_SNAPSHOT_DAMAGED
 */
export function loadSnapshot(engine: Engine, inbox: Inbox, snapshot: Snapshot, compare: boolean): void {
  const { store } = engine
  store.open = true
  try {
    engine.bout = snapshot.bout
    engine.settings = frozenCopy(snapshot.settings)
    engine.seating.load(snapshot.seats)
    engine.time.load(snapshot.time)
    inbox.ids.load(snapshot.ids)
    if (snapshot.faults !== undefined) engine.faultRuns = FaultRuns.from(snapshot.faults)
    engine.pendingNotices.push(...restoredNotices(engine, snapshot.notices ?? []))
    if (snapshot.past !== undefined) engine.keepsPast().load(snapshot.past)
    for (const { plan, stored } of engine.parts.flat()) {
      const saved = snapshot.parts[nameOf(plan)]
      if (saved !== undefined) stored.load(saved)
      else if (stored instanceof SeatTable)
        for (const [seat, number] of snapshot.seats.places) stored.open(seat, number)
    }
    for (const [name, drawn] of Object.entries(snapshot.streams)) engine.streamNamed(name).drawn = drawn
    engine.sights.restart()
    for (const { stored } of engine.parts.flat()) for (const row of stored.rows()) markSent(row)
  } catch (error) {
    if (isRefereeError(error) && /^ZR_SNAPSHOT_(DAMAGED|FOREIGN)$/.test(error.code)) throw error
    throw new RefereeError(
      'ZR_SNAPSHOT_DAMAGED',
      { why: error instanceof Error ? error.message : String(error) },
      error,
    )
  } finally {
    store.undo.size = 0
    store.open = false
  }
  if (compare && engine.hash() !== snapshot.hash)
    throw new RefereeError('ZR_SNAPSHOT_DAMAGED', { why: 'its state does not give its hash' })
}

/** Whoever comes gets them with its whole view. */
function restoredNotices(engine: Engine, saved: readonly SavedNotice[]): PendingNotice[] {
  const events = new Map(
    engine.plan.rules.flatMap(({ events }) => [...events.values()].map((event) => [event.name, event])),
  )
  const steps = [...new Set(saved.map(({ step }) => step))].reverse()
  return saved.flatMap((each) => {
    const event = events.get(each.name)
    return event === undefined
      ? []
      : PendingNotice.restored(event, each, -1 - steps.indexOf(each.step), engine.store)
  })
}

/** Marks a row as not sent: nobody views the match yet, and each new viewer gets a whole view. */
function markSent(row: CompiledRow): void {
  row.$sent = true
  if (row.$shape.drawn) row.$sentNames = row.$names
  if (row.$shape.byRow) markSightsSent(row as PolicyRow)
}

function markSightsSent(row: PolicyRow): void {
  row.$sentSights = row.$sights
  row.$sentMasks = row.$masks
}
