import { type AnyMatch, formatElapsed, type NumberedLine } from 'zinc-referee'
import { operationsOf } from 'zinc-referee/replica'
import { noSuch } from '../modes/no-such.ts'
import { inputText, rulingText, short } from '../print/input-text.ts'
import { dim } from '../print/output.ts'
import { parseTime } from './parse-time.ts'

/** One step of a replay. */
interface Step {
  readonly line: number
  /** Match time, in ms. */
  readonly at: number
  /** The input in words; nothing where only time has passed. */
  readonly input?: string
  readonly ruling?: string
  /** What the seat was sent: paths of its view with their new values, and notices with their cells. */
  readonly seen?: readonly (readonly [what: string, value: string])[]
}

/** The steps of a replay, and what one viewer was sent at each. */
export class Steps {
  readonly all: Step[] = []
  private readonly viewer: string | undefined
  private readonly from: number
  private isOpen = false

  /** `from`: the match time from which they are kept, as text. Default: all. */
  constructor(viewer: string | undefined, from: string | undefined) {
    this.viewer = viewer
    this.from = from === undefined ? 0 : parseTime(from)
  }

  /** Takes a line that has been played. */
  readonly take = ({ number, line }: NumberedLine, match: AnyMatch): void => {
    const seen = this.viewer === undefined ? undefined : this.seen(this.viewer, match)
    if (line.t < this.from) return
    const input = 'input' in line ? { input: inputText(line), ruling: rulingText(line.no) } : undefined
    if (input === undefined && (seen === undefined || seen.length === 0)) return
    this.all.push({ line: number, at: line.t, ...input, ...(seen && { seen }) })
  }

  /** Opens the viewer as soon as there is its seat. */
  private seen(viewer: string, match: AnyMatch): NonNullable<Step['seen']> {
    if (!this.isOpen) {
      this.isOpen = viewer === 'spectator' || viewer === 'server' || match.allSeats.includes(viewer)
      if (this.isOpen) match.addViewer(viewer)
      return []
    }
    return match
      .flush({ all: true })
      .flatMap((update) => [
        ...operationsOf(update).map(
          (each) =>
            [
              each.path.slice(1).replaceAll('/', '.'),
              each.op === 'remove' ? 'is no longer seen' : short(JSON.stringify(each.value)),
            ] as const,
        ),
        ...update.notices.map(({ name, cells }) => [`notice ${name}`, short(JSON.stringify(cells))] as const),
      ])
  }

  /** @throws CommandError if there never was such a viewer */
  text(match: AnyMatch): string {
    if (this.viewer !== undefined && !this.isOpen)
      throw noSuch('viewer', this.viewer, [...match.allSeats, 'spectator', 'server'])
    if (this.all.length === 0) return 'no steps'
    return this.all
      .map(({ line, at, input = dim('time passes'), ruling = '', seen = [] }) =>
        [
          `${dim(`line ${line}`.padEnd(10))} ${formatElapsed(at).padStart(7)}   ${input}   ${ruling === 'accepted' ? '' : ruling}`.trimEnd(),
          ...seen.map(([what, value]) => `                     ${what}   ${value}`),
        ].join('\n'),
      )
      .join('\n')
  }
}
