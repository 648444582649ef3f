import { SERVER, SPECTATOR } from '../cells/index.ts'
import type { Engine, SeatWatch } from '../engine/index.ts'
import type { Inbox } from '../inputs/index.ts'
import { RefereeError } from '../kit/index.ts'
import type { CompiledRow, PolicyRow } from '../rows/index.ts'
import {
  type Boxes,
  clockText,
  inSendingOrder,
  isSteady,
  MergeBox,
  NamedRows,
  type Notice,
  noticesFor,
  Outbox,
  PartPatch,
  type PendingNotice,
  partingNotices,
  sortForAll,
  viewText,
  writePlainRow,
  writePlainRowForServer,
  writeRow,
  writeRowForServer,
  writeSteadyRows,
} from '../sight/index.ts'
import { clockNames } from '../time/index.ts'
import { TimersAndOptions } from './timers-and-options.ts'
import { FlushedUpdate, type InitialView, type Update } from './update.ts'

/** A patch with more operations, which begin with a comma. */
const withMore = (patch: string | undefined, more: string): string | undefined =>
  more === '' ? patch : patch === undefined ? `[${more.slice(1)}]` : `${patch.slice(0, -1)}${more}]`

const newBoxes = (): Boxes => ({ patches: new Outbox(), merges: new MergeBox() })
const readersOf = ({ patches, merges }: Boxes) => ({ patchFor: patches.close(), latestFor: merges.close() })

const none: readonly Notice[] = []
/** True if this id is reserved for viewers without a seat. No seat can have it. */
export const isSpectator = (viewer: string): boolean => viewer.startsWith(SPECTATOR)

/** A viewer that has lost its seat, and how much of what happened since the last flush it still gets. */
interface Leaver {
  readonly viewer: string
  readonly player: number
  readonly noticeCount: number
}

/** The viewers of a match, and what each has not been sent yet. */
export class Viewing implements SeatWatch {
  private readonly engine: Engine
  private readonly inbox: Inbox
  /** With the player each was opened for: a seat, or its id, may be given to somebody else. */
  readonly viewers: Map<string, number> = new Map()
  private readonly boxes: Boxes = newBoxes()
  /** While the viewer 'server' is open. */
  private serverBoxes: Boxes | undefined
  private readonly named: NamedRows
  private readonly timersAndOptions: TimersAndOptions
  /** The clocks as viewers were last sent them. */
  private readonly clocks: string[]
  /** Viewers that have lost their seats since the last flush. */
  private leavers: Leaver[] | undefined
  /** Number of players there had been when a viewer was added or the seats changed, whichever was last. */
  private issued = 0
  private recent: PendingNotice[] = []
  /** When the first of the recent notices expires. */
  private expires = Number.POSITIVE_INFINITY
  private waiting: Update[] = []

  constructor(engine: Engine, inbox: Inbox) {
    this.engine = engine
    this.inbox = inbox
    this.named = new NamedRows(engine.store)
    this.timersAndOptions = new TimersAndOptions(engine)
    engine.watch = this
    this.clocks = clockNames.map((name) => clockText(engine.time, name))
  }

  /**
   * Adds a viewer with a whole view. Its updates keep that current. A viewer that is added again starts afresh: what
   * its view contains is not sent again. Changes that the others have not been sent yet come with the next flush.
   *
   * @throws ZR_MATCH_UNKNOWN_VIEWER
   */
  open(viewer: string): InitialView {
    this.assertViewer(viewer)
    this.waiting = this.waiting.concat(this.collect()).filter((update) => update.viewer !== viewer)
    if (viewer === SERVER) {
      this.engine.serverEvents ??= []
      this.serverBoxes ??= newBoxes()
    }
    this.viewers.set(viewer, this.engine.seating.player(viewer))
    this.issued = this.engine.seating.issued
    this.named.shut(viewer)
    for (const { stored } of this.engine.parts.flat())
      for (const row of stored.shape.byRow ? stored.rows() : []) this.named.begin(row as PolicyRow, viewer)
    this.timersAndOptions.begin(viewer)
    const lasting = this.recent.filter(({ later }) => later)
    const notices = noticesFor(lasting, viewer, this.engine.seating)
    return { at: this.engine.time.now, view: this.text(viewer), notices }
  }

  /** A viewer ends; it gets no more updates. */
  shut(viewer: string): void {
    this.viewers.delete(viewer)
    if (viewer === SERVER) {
      this.engine.serverEvents = undefined
      this.serverBoxes = undefined
    }
    this.named.shut(viewer)
    this.timersAndOptions.shut(viewer)
    this.waiting = this.waiting.filter((update) => update.viewer !== viewer)
  }

  /** The view from scratch, as JSON text. */
  text(viewer: string): string {
    this.assertViewer(viewer)
    return viewText(viewer, this.engine.time, this.engine.viewed(), this.named, (rule) =>
      this.timersAndOptions.texts(viewer, rule),
    )
  }

  /** Returns notices that have not expired. */
  recently(): readonly PendingNotice[] {
    return [...this.recent, ...this.engine.pendingNotices].filter(({ until }) => until > this.engine.time.now)
  }

  /**
   * Returns the changes for each viewer since its last update, without empty updates. `all`: includes cells that
   * wait.
   */
  flush(all = false): readonly Update[] {
    const updates = this.waiting.length === 0 ? this.collect(all) : [...this.waiting, ...this.collect(all)]
    this.waiting = []
    return updates
  }

  private collect(all = false): Update[] {
    const { store, time, pendingNotices } = this.engine
    if (store.dirty.length > 0) for (const row of this.named.rows()) store.list(row)
    store.latest.begin(time.now, all)
    this.writeRows()
    const { serverBoxes } = this
    for (const [at, name] of clockNames.entries()) {
      const text = clockText(time, name)
      if (text === this.clocks[at]) continue
      this.clocks[at] = text
      const operation = `,{"op":"replace","path":"/clocks/${name}","value":${text}}`
      this.boxes.patches.everyone(operation)
      serverBoxes?.patches.everyone(operation)
    }
    const others = readersOf(this.boxes)
    const server = serverBoxes && readersOf(serverBoxes)
    const fresh = pendingNotices.splice(0)
    if (fresh.length > 1) sortForAll(fresh, this.engine.seating)
    if (this.expires <= time.now) this.forgetExpired(time.now)
    const done = this.inbox.takeDone()
    const moved = this.timersAndOptions.haveChanged()
    const updates: Update[] = []
    // A viewer that has lost its seat gets the notice that says why, if there is one. It has no view any more.
    for (const { viewer, player, noticeCount } of this.leavers?.splice(0) ?? []) {
      const notices = partingNotices(fresh.slice(0, noticeCount), viewer, player)
      if (notices.length > 0) updates.push(new FlushedUpdate(viewer, time.now, '[]', notices))
    }
    for (const [viewer, player] of this.viewers) {
      const { patchFor, latestFor } = viewer === SERVER && server !== undefined ? server : others
      const patch = moved
        ? withMore(patchFor(viewer), this.timersAndOptions.operations(viewer))
        : patchFor(viewer)
      const latest = latestFor(viewer)
      const notices = fresh.length === 0 ? none : noticesFor(fresh, viewer, this.engine.seating)
      const events = viewer === SERVER ? this.engine.serverEvents?.splice(0) : undefined
      const isNews = patch !== undefined || latest !== undefined
      if (!isNews && notices.length === 0 && (events ?? none).length === 0) continue
      const last = done?.get(player)
      const update = new FlushedUpdate(viewer, time.now, patch ?? '[]', notices)
      if (latest !== undefined) update.latest = latest
      if (events !== undefined) update.events = events
      if (last !== undefined) update.done = last
      updates.push(update)
    }
    for (const each of fresh) {
      if (each.until <= time.now) continue
      each.rest()
      this.expires = Math.min(this.expires, each.until)
      this.recent.push(each)
    }
    return updates
  }

  private forgetExpired(now: number): void {
    this.recent = this.recent.filter(({ until }) => until > now)
    this.expires = Math.min(Number.POSITIVE_INFINITY, ...this.recent.map(({ until }) => until))
  }

  /** Writes the changes of all rows, part by part. */
  private writeRows(): void {
    const { dirty, latest } = this.engine.store
    const { serverBoxes } = this
    const seats = serverBoxes && [...this.viewers.keys()].filter((viewer) => viewer !== SERVER)
    dirty.sort(inSendingOrder)
    for (let from = 0; from < dirty.length; ) {
      const place = dirty[from]?.$shape.place
      let to = from + 1
      while (to < dirty.length && dirty[to]?.$shape.place === place) to++
      const rows = dirty.slice(from, to)
      from = to
      const [first] = rows
      if (first === undefined) continue
      if (serverBoxes !== undefined) {
        const patch = new PartPatch()
        for (const row of rows) this.writeForServer(row, patch)
        patch.writeTo(serverBoxes, first.$shape)
      }
      this.writePart(first, rows, seats ?? this.viewers.keys())
    }
    dirty.length = 0
    for (const row of latest.rows) dirty.push(row)
  }

  /** Writes the changes of some rows of one part, for all viewers but the server. */
  private writePart({ $shape }: CompiledRow, rows: CompiledRow[], viewers: Iterable<string>): void {
    if (!$shape.byRow && rows.every(isSteady)) {
      writeSteadyRows(rows, this.boxes)
      return
    }
    const patch = new PartPatch()
    const each = [...viewers]
    for (const row of rows)
      if (row.$shape.byRow) writeRow(row as PolicyRow, each, patch, this.named)
      else writePlainRow(row, patch)
    patch.writeTo(this.boxes, $shape)
  }

  private writeForServer(row: CompiledRow, patch: PartPatch): void {
    if (row.$shape.byRow) writeRowForServer(row as PolicyRow, patch, this.named)
    else writePlainRowForServer(row, patch)
  }

  /**
   * Removes viewers whose seat is gone or has gone to somebody else. They are still sent this step, but no later one.
   * If a newcomer with the same id is already there, they are not sent this step either.
   */
  seatsChanged(noticeCount: number): void {
    const { seating } = this.engine
    const until = seating.issued === this.issued ? this.engine.pendingNotices.length : noticeCount
    this.issued = seating.issued
    for (const [viewer, player] of [...this.viewers]) {
      if (seating.player(viewer) === player) continue
      this.shut(viewer)
      this.leavers ??= []
      this.leavers.push({ viewer, player, noticeCount: until })
    }
  }

  private assertViewer(viewer: string): void {
    if (viewer !== SERVER && !isSpectator(viewer) && !this.engine.seating.has(viewer))
      throw new RefereeError('ZR_MATCH_UNKNOWN_VIEWER', { viewer })
  }
}
