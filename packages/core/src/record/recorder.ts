import type { Engine, Entry, Journal, Ruling } from '../match/index.ts'
import { type CheckLine, type Header, type InputLine, RECORD_VERSION } from './format.ts'

/** Takes a record line by line, each without its line break. What it throws reaches whoever gave the input. */
export type Sink = (line: string) => void

const INPUTS_PER_CHECK = 64
const MALFORMED_KEPT = 256
/** Codes that answer before an input is parsed, or because it cannot be. */
const unparsed: ReadonlySet<string> = new Set(['bad-input', 'unknown-action', 'unknown-seat', 'gone'])

/** Writes what happens in a match as JSON Lines: a header, every input, and now and then the state's hash. */
export class Recorder implements Journal {
  private readonly engine: Engine
  private readonly sink: Sink
  private inputs = 0

  constructor(engine: Engine, sink: Sink) {
    this.engine = engine
    this.sink = sink
  }

  begin(seed: string, settings: Header['settings']): void {
    const { name, digest } = this.engine.plan
    this.write({
      record: 'zinc-referee',
      version: RECORD_VERSION,
      rulebook: name,
      plan: digest,
      seed,
      settings,
    })
  }

  input({ t, kind, name, input, rulings, ...rest }: Entry): void {
    const no = rulings.every(({ ok }) => ok)
      ? undefined
      : kind === 'reportAll'
        ? rulings.map(codeOf)
        : (codeOf(rulings[0]) ?? undefined)
    const malformed = typeof no === 'string' && unparsed.has(no)
    const how = rest.how && Object.keys(rest.how).length > 0 ? { how: rest.how } : {}
    this.write({
      t,
      [kind]: name,
      ...(rest.seat === undefined ? {} : { seat: rest.seat }),
      ...(rest.referee === undefined ? {} : { referee: rest.referee }),
      input: malformed ? clipped(input) : input,
      ...how,
      ...(no === undefined ? {} : { no }),
    })
    this.inputs++
    if (this.inputs % INPUTS_PER_CHECK === 0) this.check()
  }

  end(): void {
    this.write({ t: this.engine.time.now, check: this.engine.hash(), end: true })
  }

  private check(): void {
    this.write({ t: this.engine.time.now, check: this.engine.hash() })
  }

  private write(line: Header | InputLine | CheckLine): void {
    this.sink(JSON.stringify(line))
  }
}

const codeOf = (ruling: Ruling | undefined): string | null =>
  ruling === undefined || ruling.ok ? null : ruling.code

/** A malformed input is kept only as far as it helps to find out what was sent. */
function clipped(input: unknown): unknown {
  const text = JSON.stringify(input) ?? ''
  return text.length <= MALFORMED_KEPT ? input : text.slice(0, MALFORMED_KEPT)
}
