import type { Engine } from '../engine/index.ts'
import type { Entry, Journal } from '../inputs/index.ts'
import { jsonText } from '../kit/index.ts'
import type { Ruling } from '../rule/index.ts'
import { type CheckLine, type Header, type InputLine, RECORD_VERSION, type TimeLine } from './format.ts'
import type { Snapshot } from './snapshot.ts'

/**
 * Takes a record line by line, each without its line break, before the input takes effect. If it throws, the input
 * has not happened: the step is undone, and the caller gets what the sink threw.
 */
export type Sink = (line: string) => void

const INPUTS_PER_CHECK = 256
const MAX_QUOTES = 1000
const MALFORMED_KEPT = 256
/** Codes that answer before an input is parsed, or because it cannot be. */
const unparsed: ReadonlySet<string> = new Set([
  'bad-input',
  'unknown-action',
  'unknown-seat',
  'left',
  'fault-limit',
])

/** Writes what happens in a match as JSON Lines: a header, every input, and now and then the state's hash. */
export class Recorder implements Journal {
  private readonly engine: Engine
  private readonly sink: Sink
  private inputs = 0
  /** Inputs after which a check line is due. */
  private checkedAt = INPUTS_PER_CHECK
  /** The time (ms) of the last line, and when a timer fired last. */
  private covered = 0
  private firedAt = 0
  /** Names and seats as JSON texts. */
  private readonly quotes: Map<string, string> = new Map()

  constructor(engine: Engine, sink: Sink) {
    this.engine = engine
    this.sink = sink
  }

  /** `from`: where it begins, if not with an empty lobby, and `because`: why. */
  begin(seed: string, taken: readonly string[], from?: Snapshot, because?: string): void {
    const { name, digest, outline } = this.engine.plan
    this.covered = this.engine.time.now
    this.write({
      record: 'zinc-referee',
      version: RECORD_VERSION,
      rulebook: name,
      plan: digest,
      outline,
      seed,
      settings: this.engine.settings,
      ...(taken.length > 0 && { with: taken }),
      ...(from && { from }),
      ...(because !== undefined && { because }),
    })
  }

  /** A line as in {@link InputLine}. It is put together by hand: one for each input, and serialising costs most of it. */
  input({ t, kind, name, input, text, rulings, seat, referee, how }: Entry): void {
    const no = refused(kind, rulings)
    const given = text ?? jsonText(input)
    let line = `{"t":${t},"${kind}":${this.quoted(name)}`
    if (seat !== undefined) line += `,"seat":${this.quoted(seat)}`
    if (referee !== undefined) line += `,"referee":${JSON.stringify(referee)}`
    line += `,"input":${typeof no === 'string' && unparsed.has(no) ? clipped(given) : given}`
    if (how !== undefined && Object.keys(how).length > 0) line += `,"how":${JSON.stringify(how)}`
    if (no !== undefined) line += `,"no":${JSON.stringify(no)}`
    this.sink(`${line}}`)
    this.covered = t
    this.inputs++
  }

  /** A timer has fired; no line says so. */
  fired(): void {
    this.firedAt = this.engine.time.now
  }

  /**
   * Before anybody is shown what a timer did: a line must say that time ran so far. Else a match that is restored from the
   * record could undo what was shown.
   */
  cover(): void {
    if (this.firedAt <= this.covered) return
    this.write({ t: this.engine.time.now })
  }

  /** Now and then the state's hash. It changes nothing, so where the sink throws it is written after a later input. */
  settled(): void {
    if (this.inputs < this.checkedAt) return
    try {
      this.write({ t: this.engine.time.now, check: this.engine.hash() })
      this.checkedAt = this.inputs + INPUTS_PER_CHECK
    } catch {
      this.checkedAt = this.inputs + 1
    }
  }

  end(): void {
    this.write({ t: this.engine.time.now, check: this.engine.hash(), end: true })
  }

  private quoted(name: string): string {
    const known = this.quotes.get(name)
    if (known !== undefined) return known
    const text = JSON.stringify(name)
    if (this.quotes.size < MAX_QUOTES) this.quotes.set(name, text)
    return text
  }

  private write(line: Header | CheckLine | TimeLine): void {
    this.sink(JSON.stringify(line))
    if ('t' in line) this.covered = line.t
  }
}

const codeOf = (ruling: Ruling | undefined): string | null =>
  ruling === undefined || ruling.ok ? null : ruling.code

function refused(kind: Entry['kind'], rulings: readonly Ruling[]): InputLine['no'] {
  if (kind === 'reportAll') return rulings.every(({ ok }) => ok) ? undefined : rulings.map(codeOf)
  return codeOf(rulings[0]) ?? undefined
}

/** A malformed input is kept only as far as it helps to find out what was sent. */
const clipped = (text: string): string =>
  text.length <= MALFORMED_KEPT ? text : JSON.stringify(text.slice(0, MALFORMED_KEPT))
