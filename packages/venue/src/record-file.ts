import { once } from 'node:events'
import { createWriteStream, mkdirSync } from 'node:fs'
import { join } from 'node:path'

/** A record on disk, written as it comes. */
export interface RecordFile {
  readonly path: string
  write(line: string): void
  /** Resolves when all lines are with the system. */
  close(): Promise<void>
}

/** @throws what the file system throws where the folder cannot be made */
export function openRecordFile(folder: string, name: string): RecordFile {
  mkdirSync(folder, { recursive: true })
  const path = join(folder, `${name.replaceAll(/[^\w-]+/g, '_')}.jsonl`)
  const stream = createWriteStream(path)
  // A full disk must not end the matches; what is written of the record stays whole up to there.
  stream.on('error', (error) =>
    process.emitWarning(`the record ${path} cannot be written on: ${error.message}`),
  )
  return {
    path,
    write: (line) => void stream.write(`${line}\n`),
    async close() {
      stream.end()
      if (!stream.closed) await once(stream, 'close')
    },
  }
}
