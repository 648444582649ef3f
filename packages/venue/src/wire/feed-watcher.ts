import type { Route } from '../circuit-link.ts'
import type { Watchable } from '../matches/index.ts'
import type { Role } from '../roles.ts'
import { Refused } from './calls.ts'
import type { Doors } from './doors.ts'
import { type Line, sayFarewell } from './farewell.ts'
import { joinAnswer } from './join-answer.ts'
import { pingAnswer } from './ping-answer.ts'
import type { Call, ParamsOf } from './protocol.ts'
import { type Receiver, Trail } from './trail.ts'

/** What a watcher of a feed works with. */
interface Watching {
  readonly doors: Doors
  readonly receiver: Receiver
  readonly line: Line
}

/**
 * Returns a watcher of a match that another venue has, by its feed.
 * @throws Refused with where the match is, for whoever does more than watch, or if there is no feed now
 */
export async function watchFeed(
  route: Route,
  { watch, latest }: ParamsOf<'join'>,
  role: Role | undefined,
  watching: Watching,
): Promise<FeedWatcher> {
  const { circuit, allowDriving } = watching.doors
  const watchesOnly = watch === 'spectator' && (role ?? 'watcher') === 'watcher' && !allowDriving
  const feed = watchesOnly ? await circuit?.watch(route.match) : undefined
  if (feed === undefined) throw new Refused('elsewhere', { ...route })
  return new FeedWatcher(feed, watching, latest === false)
}

/** Somebody who watches the feed of a match that another venue of the circuit has. */
export class FeedWatcher {
  private readonly feed: Watchable
  private readonly doors: Doors
  private readonly receiver: Receiver
  private readonly line: Watching['line']
  private readonly trail: Trail
  private hasLeft = false

  /** `isPlain`: it wants patches alone. */
  constructor(feed: Watchable, { doors, receiver, line }: Watching, isPlain: boolean) {
    this.feed = feed
    this.doors = doors
    this.receiver = receiver
    this.line = line
    this.trail = new Trail(feed, doors.spectatorId(), doors.wait, isPlain)
  }

  /** Returns the answer to `join`. @throws Refused if as many watch the match here as may */
  join(): string {
    const { feed, doors, trail } = this
    if (!doors.watches(feed, 1)) throw new Refused('too-many-watchers')
    const { at, view, notices } = trail.open(this.receiver)
    feed.ends.add(this.ended)
    return joinAnswer(feed, trail, doors, { seat: null, role: 'watcher', at, notices }, ['view', view])
  }

  /** Carries a call out and returns the result as JSON text. @throws Refused for what only a seat may */
  call({ method }: Call): string {
    if (method === 'ping') return pingAnswer(this.feed, this.doors)
    if (method === 'describe') return JSON.stringify(this.feed.match.describe())
    if (method === 'join') throw new Refused('already-joined')
    throw new Refused(method === 'report' || method === 'direct' ? 'not-your-role' : 'only-watching')
  }

  leave(): void {
    if (this.hasLeft) return
    this.hasLeft = true
    this.feed.ends.delete(this.ended)
    this.doors.watches(this.feed, -1)
    this.trail.close()
  }

  private readonly ended = (why: string): void => {
    this.leave()
    sayFarewell(this.line, why, this.feed.id)
  }
}
