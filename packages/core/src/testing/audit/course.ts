import type { ServerEvent } from '../../engine/index.ts'
import { operationsOf } from '../../replica/index.ts'
import type { AnyMatch, OpenMatch } from '../../rulebook/index.ts'
import type { Update } from '../../views/index.ts'
import type { Deed } from '../deeds.ts'
import type { Through } from './asked.ts'
import type { Sent } from './first-names.ts'

/** The effect of one deed, and what one viewer was sent of it. */
export interface Step {
  /** The ruling, as text. */
  readonly ruling: string
  readonly events: readonly ServerEvent[]
  readonly update: Update | undefined
  /** What the viewer was sent, as text. */
  readonly said: string
}

/**
 * The further course of a match, deed by deed, for one viewer. Deeds are numbered from 0, and must be asked for in
 * order.
 */
export interface Course {
  /** The ruling that the next deed would get, as text. */
  tried(nth: number): string
  /** Does the next deed. */
  step(nth: number): Step
  /** The match right after a deed. It must not be changed. */
  matchAfter(nth: number): OpenMatch
  /** The same course without the next deed. */
  skipping(nth: number): Course
}

/** The match and the viewer that a course follows. */
export interface Followed {
  readonly deeds: readonly Deed[]
  readonly viewer: string
  readonly through: Through
}

/** The course of a match whose viewer is open. */
export class OwnCourse implements Course {
  readonly #match: OpenMatch
  readonly #followed: Followed

  constructor(match: OpenMatch, followed: Followed) {
    this.#match = match
    this.#followed = followed
    match.engine.serverEvents = []
  }

  tried(nth: number): string {
    const { kind, name, input, seat } = deedAt(this.#followed, nth)
    return kind === 'other' ? '' : JSON.stringify(this.#match.inbox.tried(kind, name, input, seat))
  }

  step(nth: number): Step {
    const { match, engine } = this.#match
    const { steps } = engine
    const ruling = JSON.stringify(deedAt(this.#followed, nth).does(match))
    const events = engine.serverEvents?.splice(0) ?? []
    // An input is one step. Others are timers that came due at its own ms: what they reveal, time reveals.
    if (engine.steps - steps > 1) events.push({ name: 'time', at: match.now, cells: {} })
    const update = sentTo(match, this.#followed)
    return { ruling, events, update, said: said(update) }
  }

  matchAfter(): OpenMatch {
    return this.#match
  }

  skipping(): Course {
    return this
  }
}

/** A course with which many others are compared: each of its deeds is done once, and its steps are kept. */
export class SharedCourse implements Course {
  readonly #fresh: () => OpenMatch
  readonly #followed: Followed
  readonly #own: OwnCourse
  readonly #tried: string[] = []
  readonly #steps: Step[] = []
  readonly #after: Map<number, OpenMatch> = new Map()

  /** `fresh` makes the match as it is at first. */
  constructor(fresh: () => OpenMatch, followed: Followed) {
    this.#fresh = fresh
    this.#followed = followed
    this.#own = new OwnCourse(this.#upTo(0), followed)
  }

  tried(nth: number): string {
    this.#tried[nth] ??= this.#own.tried(nth)
    return this.#tried[nth]
  }

  step(nth: number): Step {
    // A twin that is run on later needs the ruling of this match, so it is asked for before the deed.
    this.tried(nth)
    this.#steps[nth] ??= this.#own.step(nth)
    return this.#steps[nth]
  }

  matchAfter(nth: number): OpenMatch {
    if (nth === this.#steps.length - 1) return this.#own.matchAfter()
    const match = this.#after.get(nth) ?? this.#upTo(nth + 1)
    this.#after.set(nth, match)
    return match
  }

  skipping(nth: number): Course {
    return new OwnCourse(this.#upTo(nth), this.#followed)
  }

  /** A match of its own, in which so many deeds are done. */
  #upTo(count: number): OpenMatch {
    const fresh = this.#fresh()
    const { deeds, viewer } = this.#followed
    for (const deed of deeds.slice(0, count)) deed.does(fresh.match)
    fresh.match.addViewer(viewer)
    fresh.match.flush({ all: true })
    return fresh
  }
}

export const sentBy = (update: Update | undefined): Sent => ({
  patch: operationsOf(update ?? { patch: '[]' }),
  notices: update?.notices ?? [],
})

function sentTo(match: AnyMatch, { viewer, through }: Followed): Update | undefined {
  return through(
    match.flush({ all: true }).find((each) => each.viewer === viewer),
    match,
  )
}

const said = (update: Update | undefined): string =>
  JSON.stringify([update?.patch ?? '[]', update?.latest, update?.notices ?? []])

function deedAt({ deeds }: Followed, nth: number): Deed {
  const deed = deeds[nth]
  if (deed === undefined) throw new RangeError(`a course has no deed ${nth}`)
  return deed
}
