import { close, fdatasync, ftruncate, openSync, write } from 'node:fs'
import { setTimeout as pause } from 'node:timers/promises'
import { promisify } from 'node:util'

/** What a record is written with. */
export interface Disk {
  /** Writes bytes behind those of the file, perhaps not all of them, and says how many. */
  write(file: number, bytes: Buffer): Promise<{ readonly bytesWritten: number }>
  /** Makes safe what was written. */
  sync(file: number): Promise<void>
  /** Cuts the file to so many bytes. */
  cut(file: number, bytes: number): Promise<void>
}
const written = promisify(write)
const closed = promisify(close)
const theDisk: Disk = {
  write: (file, bytes) => written(file, bytes),
  sync: promisify(fdatasync),
  cut: promisify(ftruncate),
}

/**
 * When a line is safe. `each`: it is on the disk, written at once. `group`: it is on the disk, with those that came within
 * a few ms of it. `none`: it has been given to the file, whatever becomes of it.
 */
export type Commit = 'each' | 'group' | 'none'

/** How long lines of a group wait for one another, in ms. */
const GROUP = 5
/** How long a full disk is left alone, in ms. */
const RETRY = 500
/** Records hold every secret of a match: nobody else on the machine may read them. */
const PRIVATE = 0o600

/** A record on disk, written as the match goes on. */
export interface RecordFile {
  readonly path: string
  /** Number of lines it has been given, with those that were there. */
  readonly lines: number
  write(line: string): void
  /** Calls `send` once all lines so far are safe, in the order in which it was asked. */
  whenSafe(send: () => void): void
  /** Resolves when all lines are safe on the disk. */
  close(): Promise<void>
}
/** Options of `openRecordFile`. */
export interface RecordFileOptions {
  readonly commit: Commit
  /** What is in the file already; 0 for a new one. */
  readonly bytes?: number
  readonly lines?: number
  /** Called when the file cannot be written on, and again with nothing once it can. Until then nothing is safe. */
  readonly stuck: (error: unknown) => void
  /** Default: the disk of this machine. */
  readonly disk?: Disk
}

/**
 * Opens a record to be written on. Lines that come while the disk is busy are written and made safe together.
 * @throws what the file system throws where the file cannot be made
 */
export function openRecordFile(path: string, options: RecordFileOptions): RecordFile {
  const { commit, stuck, disk = theDisk } = options
  const file = openSync(path, 'a', PRIVATE)
  let [safeBytes, lines] = [options.bytes ?? 0, options.lines ?? 0]
  let waiting: string[] = []
  let sends: (() => void)[] = []
  let working: Promise<void> | undefined
  let isStuck = false

  async function work(): Promise<void> {
    while (waiting.length > 0 || sends.length > 0) {
      if (commit === 'group' && waiting.length > 0) await pause(GROUP)
      const [batch, ready] = [waiting, sends]
      waiting = []
      sends = []
      if (batch.length > 0) await writeOut(Buffer.from(batch.join('')))
      for (const send of ready) send()
    }
    working = undefined
  }

  /** Tries until it is done. What was half written is cut off first, so that the record stays whole. */
  async function writeOut(bytes: Buffer): Promise<void> {
    for (;;) {
      try {
        if (isStuck) await disk.cut(file, safeBytes)
        for (let left = bytes; left.length > 0; )
          left = left.subarray((await disk.write(file, left)).bytesWritten)
        if (commit !== 'none') await disk.sync(file)
        safeBytes += bytes.length
        if (isStuck) stuck(undefined)
        isStuck = false
        return
      } catch (error) {
        if (!isStuck) stuck(error)
        isStuck = true
        await disk.cut(file, safeBytes).catch(() => undefined)
        await pause(RETRY, undefined, { ref: false })
      }
    }
  }

  return {
    path,
    get lines() {
      return lines
    },
    write(line) {
      lines++
      waiting.push(`${line}\n`)
      working ??= Promise.resolve().then(work)
    },
    whenSafe(send) {
      if (working === undefined || commit === 'none') send()
      else sends.push(send)
    },
    async close() {
      while (working !== undefined) await working
      await closed(file)
    },
  }
}
