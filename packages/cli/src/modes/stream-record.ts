import { closeSync, openSync, readSync } from 'node:fs'
import { StringDecoder } from 'node:string_decoder'
import { isRefereeError, type NumberedLine, type RecordStream, RefereeError, readRecord } from 'zinc-referee'

/** Bytes that are read at a time, and lines that are parsed at a time. */
const [BYTES, LINES] = [1 << 20, 1000]

/**
 * Opens a record of any length: its lines are read while it is played, so that it takes no more memory than a short one.
 * @throws ZR_RECORD_FOREIGN; ZR_RECORD_UNREADABLE at once for its header, and for any other line when that is read
 */
export function streamRecord(path: string): RecordStream {
  let [first, header, begins, number] = ['', '', 0, 0]
  for (const line of linesOf(path)) {
    if (++number === 1) first = line
    if (!line.startsWith('{"record":')) continue
    header = line
    begins = number
  }
  readRecord(first) // a file that is no record is refused here
  return {
    header: readRecord(header).header,
    begins,
    lines: { [Symbol.iterator]: () => parsed(path, header, begins) },
  }
}

function* parsed(path: string, header: string, begins: number): Generator<NumberedLine> {
  let [number, some]: [number, string[]] = [0, []]
  for (const line of linesOf(path)) {
    if (++number <= begins) continue
    some.push(line)
    if (some.length < LINES) continue
    yield* numbered(header, some, number - some.length)
    some = []
  }
  yield* numbered(header, some, number - some.length)
}

/** Parses lines that come after this many others. */
function numbered(header: string, lines: readonly string[], after: number): readonly NumberedLine[] {
  const more = after - 1 // since the header is line 1 here
  try {
    return readRecord([header, ...lines].join('\n')).lines.map(({ number, line }) => ({
      number: number + more,
      line,
    }))
  } catch (error) {
    if (!isRefereeError(error) || error.code !== 'ZR_RECORD_UNREADABLE') throw error
    const { line, why }: { readonly line?: unknown; readonly why?: unknown } = Object(error.details)
    throw new RefereeError('ZR_RECORD_UNREADABLE', { line: Number(line) + more, why: String(why) })
  }
}

function* linesOf(path: string): Generator<string> {
  const file = openSync(path, 'r')
  const [bytes, decoder] = [Buffer.alloc(BYTES), new StringDecoder('utf8')]
  try {
    let rest = ''
    for (let read = readSync(file, bytes); read > 0; read = readSync(file, bytes)) {
      const lines = (rest + decoder.write(bytes.subarray(0, read))).split('\n')
      rest = lines.pop() ?? ''
      yield* lines
    }
    yield rest + decoder.end()
  } finally {
    closeSync(file)
  }
}
