import type { Bucket } from './ports.ts'

/** Which venue runs a match. It is a hint, and may be old: the stream says who owns it. */
export interface Place {
  readonly match: string
  readonly mode: string
  /** The venue and its start. */
  readonly by: string
  readonly epoch: number
}

/** Where all matches of the circuit are, as one venue sees it. */
export class Places {
  /** Resolves when it has seen all places there are. */
  readonly loaded: Promise<void>
  private readonly bucket: Bucket
  private readonly seen: Map<string, Place> = new Map()
  private readonly waiting: Set<() => void> = new Set()
  private readonly stopWatching: () => void

  /** `changed` is called with each place that another venue, or this one, has written. */
  constructor(bucket: Bucket, changed: (place: Place) => void) {
    this.bucket = bucket
    let caughtUp = (): void => {}
    this.loaded = new Promise((done) => {
      caughtUp = done
    })
    this.stopWatching = bucket.watch((key, text) => {
      if (text === undefined) this.seen.delete(key)
      else {
        const place = JSON.parse(text) as Place
        this.seen.set(key, place)
        changed(place)
      }
      for (const look of [...this.waiting]) look()
    }, caughtUp)
  }

  get all(): Iterable<Place> {
    return this.seen.values()
  }

  get(match: string): Place | undefined {
    return this.seen.get(tokenOf(match))
  }

  /** Writes where a match is. Returns false if nobody knows whether it was written. */
  put(place: Place): Promise<boolean> {
    return this.bucket.put(tokenOf(place.match), JSON.stringify(place)).then(
      () => true,
      () => false,
    )
  }

  async remove(match: string): Promise<void> {
    await this.bucket.remove(tokenOf(match)).catch(() => undefined)
  }

  /** Resolves with true once a place is as asked, or with false when `giveUp` has. */
  until(
    match: string,
    is: (place: Place | undefined) => boolean,
    giveUp: Promise<unknown>,
  ): Promise<boolean> {
    return new Promise((done) => {
      const look = (): void => {
        if (!is(this.get(match))) return
        this.waiting.delete(look)
        done(true)
      }
      this.waiting.add(look)
      look()
      void giveUp.then(() => {
        this.waiting.delete(look)
        done(false)
      })
    })
  }

  close(): void {
    this.stopWatching()
  }
}

/** Returns a match's id as a part of a subject or a key: letters, digits, `-` and `_` stay, others become `=` and their code. */
export const tokenOf = (match: string): string =>
  match.replaceAll(/[^\w-]/gu, (letter) => `=${letter.codePointAt(0)?.toString(16)}=`)
