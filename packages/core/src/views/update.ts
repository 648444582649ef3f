import type { ServerEvent } from '../engine/index.ts'
import type { Notice } from '../sight/index.ts'

/** What changed for one viewer since its last update: apply the patch, then the latest, then show the notices. */
export interface Update<T = ServerEvent> {
  /** Who gets it. */
  readonly viewer: string
  /** Match time of the flush, in ms. */
  readonly at: number
  /** JSON Patch (RFC 6902) as text. Viewers who see the same share one string. */
  readonly patch: string
  /**
   * JSON Merge Patch (RFC 7396) as text, on the view after the patch: numbers of which only the latest counts
   * (`latest(every)`). It changes members that are there, and adds or removes none. Of two updates without a patch between
   * them, the merge patches may be merged.
   */
  readonly latest?: string
  /** Notices of what happened, as far as the viewer may know. */
  readonly notices: readonly Notice[]
  /** For the viewer 'server': every event since its last update, whoever sees it. */
  readonly events?: readonly T[]
  /** The last action id of this viewer that the update includes. */
  readonly done?: string | number
}
/** How a viewer begins. */
export interface InitialView {
  /** Match time, in ms. */
  readonly at: number
  /** The whole view as JSON text. */
  readonly view: string
  /** Notices that have not expired. */
  readonly notices: readonly Notice[]
}

/**
 * An update as a flush makes it. A class, because V8 may place object literals of busy code in the old generation at
 * once: there, dead updates kept their patches alive, and a flush to 500 viewers took up to five times as long.
 */
export class FlushedUpdate implements Update {
  readonly viewer: string
  readonly at: number
  readonly patch: string
  readonly notices: readonly Notice[]
  declare latest?: string
  declare events?: readonly ServerEvent[]
  declare done?: string | number

  constructor(viewer: string, at: number, patch: string, notices: readonly Notice[]) {
    this.viewer = viewer
    this.at = at
    this.patch = patch
    this.notices = notices
  }
}
