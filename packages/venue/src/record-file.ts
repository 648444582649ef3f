import { close, fdatasync, mkdirSync, openSync, write } from 'node:fs'
import { join } from 'node:path'
import { promisify } from 'node:util'

const [written, synced, closed] = [promisify(write), promisify(fdatasync), promisify(close)]

/** A record on disk, written as the match goes on. */
export interface RecordFile {
  readonly path: string
  write(line: string): void
  /** Resolves when all lines are safe on the disk. */
  close(): Promise<void>
}

/**
 * Lines that come while the disk is busy are written and made safe together (group commit), so that the matches never
 * wait for it.
 * @throws what the file system throws where the folder or the file cannot be made
 */
export function openRecordFile(folder: string, name: string): RecordFile {
  mkdirSync(folder, { recursive: true })
  const path = join(folder, `${name.replaceAll(/[^\w-]+/g, '_')}.jsonl`)
  const file = openSync(path, 'w')
  let waiting: string[] = []
  let working: Promise<void> | undefined
  let broken = false

  async function work(): Promise<void> {
    while (waiting.length > 0 && !broken) {
      const text = waiting.join('')
      waiting = []
      try {
        let bytes = Buffer.from(text)
        while (bytes.length > 0) bytes = bytes.subarray((await written(file, bytes)).bytesWritten)
        await synced(file)
      } catch (error) {
        // A full disk must not end the matches. The record stays whole up to the line that failed.
        broken = true
        process.emitWarning(`the record ${path} cannot be written on: ${String(error)}`)
      }
    }
    working = undefined
  }

  return {
    path,
    write(line) {
      if (broken) return
      waiting.push(`${line}\n`)
      working ??= Promise.resolve().then(work)
    },
    async close() {
      while (working !== undefined) await working
      await closed(file)
    },
  }
}
