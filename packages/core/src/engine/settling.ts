import type { Seat, Values } from '../cells/index.ts'
import { RefereeError } from '../kit/index.ts'
import type { EventPlan } from '../plan/index.ts'
import { PendingNotice } from '../sight/index.ts'
import { HandlerRunner } from './handler-runner.ts'
import type { SightKeeper } from './sight-keeper.ts'

/** An event as the viewer 'server' gets it. */
export interface ServerEvent {
  /** Such as `respawn.back`. */
  readonly name: string
  /** Match time, in ms. */
  readonly at: number
  /** All cells of the event. */
  readonly cells: { readonly [cell: string]: unknown }
}
/** Counts of what a step had done when one part of it began. */
interface Savepoint {
  readonly undo: number
  readonly events: number
  readonly notices: number
}

interface Queued {
  readonly event: EventPlan
  readonly cells: Values
  readonly depth: number
}

const MAX_LINKS = 1000
const MAX_SETTLINGS = 100

/**
 * Finishes a step before it is kept: delivers events to their handlers, settles the tiers, and decides who gets which
 * notice.
 */
export abstract class Settling extends HandlerRunner {
  /** Notices of finished steps, for the next flush. */
  readonly pendingNotices: PendingNotice[] = []
  /** All events of finished steps, while the viewer 'server' is open. */
  serverEvents: ServerEvent[] | undefined
  /** Counts kept steps. It shows whether anything has happened since. */
  steps = 0
  abstract readonly sights: SightKeeper
  protected queue: Queued[] = []
  protected depth = 0
  protected pending: { readonly event: EventPlan; readonly cells: Values }[] = []
  /** Notices of this step with their viewers, to go out if it is kept. */
  protected fixed: PendingNotice[] = []
  protected stepEvents: ServerEvent[] | undefined

  emit(event: EventPlan, cells: Values): void {
    if (!this.store.open) this.store.refuse(event.name)
    const filled = this.filled(event, cells)
    if (event.facets.length > 0 || this.serverEvents !== undefined)
      this.pending.push({ event, cells: filled })
    if (event.handlers.length > 0) this.queue.push({ event, cells: filled, depth: this.depth + 1 })
  }

  protected savepoint(): Savepoint {
    return { undo: this.store.undo.size, events: this.queue.length, notices: this.pending.length }
  }

  protected rollBack({ undo, events, notices }: Savepoint): void {
    this.store.undo.rollback(undo)
    // Setting an array's length costs time, even if it does not change.
    if (this.queue.length > events) this.queue.length = events
    if (this.pending.length > notices) this.pending.length = notices
  }

  protected drain(): void {
    for (let at = 0; at < this.queue.length; at++) {
      const { event, cells, depth } = this.queue[at] as Queued
      if (depth > MAX_LINKS)
        throw new RefereeError('ZR_MATCH_CHAIN', { what: `events like '${event.name}'`, most: MAX_LINKS })
      this.depth = depth
      for (const handler of event.handlers) this.run(handler, cells)
    }
    this.queue.length = 0
    this.depth = 0
  }

  /** Decides who gets which notice, once the step has settled. */
  protected decideNotices(): void {
    for (const { event, cells } of this.pending.splice(0)) {
      if (this.serverEvents !== undefined) {
        this.stepEvents ??= []
        this.stepEvents.push({ name: event.name, at: this.time.now, cells })
      }
      if (event.facets.length === 0) continue
      const owner = cells['seat'] as Seat | undefined
      const audiences = event.isForAll
        ? undefined
        : event.facets.map(({ sights }) => this.sights.audience(sights, owner, event.rule))
      const { time, steps, seating, store } = this
      this.fixed.push(new PendingNotice(event, time.now, steps, seating.issued, cells, audiences, store))
    }
  }

  /** Tier after tier; what a tier tells, or wakes in itself or an earlier one, is settled before the next. */
  protected settle(): void {
    let again = 0
    let settled = 0
    for (let tier = 0; tier < this.plan.settle.length; ) {
      for (const handler of this.plan.settle[tier] ?? []) {
        settled |= handler.bit
        if ((this.store.woken & handler.bit) === 0) continue
        this.store.woken &= ~handler.bit
        this.run(handler)
      }
      if (this.queue.length === 0 && (this.store.woken & settled) === 0) {
        tier++
        continue
      }
      if (++again > MAX_SETTLINGS)
        throw new RefereeError('ZR_MATCH_CHAIN', { what: 'rounds of settling', most: MAX_SETTLINGS })
      this.drain()
      tier = 0
      settled = 0
    }
  }

  protected filled(event: EventPlan, cells: Values): Values {
    try {
      return event.withDefaults(cells)
    } catch (error) {
      this.failStep(error)
      throw error
    }
  }
}
