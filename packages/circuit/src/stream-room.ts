import type { Log } from '@zinc-referee/venue'
import type { MatchStream, Shelf } from './protocol/ports.ts'

/** How often it is looked how much the servers keep, in ms. */
const LOOK_EVERY = 1000
/** So much more than what is full makes everything stand still. */
const BRIM = 1.25

/** How much room the servers have: where they are full, no new matches begin; where they are brimful, what runs stands still. */
export type Room = 'enough' | 'full' | 'brimful'
const WORDS: { readonly [R in Room]: string } = {
  enough: 'there is room again',
  full: 'full, no new matches begin',
  brimful: 'brimful, all matches stand still',
}

/** Nothing is written while there is no room. */
class NoRoom extends Error {}

/**
 * Knows how much room the servers have. Servers that are full lose messages that they have acknowledged, so a circuit stops
 * before: first nothing new begins, then what runs stands still. Both end when there is room again.
 */
export class StreamRoom {
  /** How much room there is now. */
  room: Room = 'enough'
  private readonly timer: NodeJS.Timeout | undefined

  /** `used`: how many bytes each server keeps. */
  constructor(used: () => Promise<number>, fullAt: number | undefined, log: Log) {
    if (fullAt === undefined) return
    const look = async (): Promise<void> => {
      const bytes = await used().catch(() => undefined)
      if (bytes === undefined) return
      const before = this.room
      this.room = bytes >= BRIM * fullAt ? 'brimful' : bytes >= fullAt ? 'full' : 'enough'
      if (this.room === before) return
      log[this.room === 'enough' ? 'info' : 'warn']({ bytes, fullAt }, `circuit: ${WORDS[this.room]}`)
    }
    void look()
    this.timer = setInterval(() => void look(), LOOK_EVERY).unref()
  }

  /** Returns the same storage, into which nothing is put while there is no room. What is there is read and removed. */
  guarded<S extends { readonly stream: MatchStream; readonly shelf: Shelf }>(storage: S): S {
    if (this.timer === undefined) return storage
    const { stream, shelf } = storage
    const ifRoom =
      <A extends readonly unknown[], R>(put: (...given: A) => Promise<R>) =>
      async (...given: A): Promise<R> => {
        if (this.room === 'brimful') throw new NoRoom()
        return put(...given)
      }
    return {
      ...storage,
      stream: { ...stream, publish: ifRoom(stream.publish.bind(stream)) },
      shelf: { ...shelf, put: ifRoom(shelf.put.bind(shelf)) },
    }
  }

  close(): void {
    clearInterval(this.timer)
  }
}
