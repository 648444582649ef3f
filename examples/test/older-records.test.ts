import { readdirSync, readFileSync } from 'node:fs'
import { modes } from '@zinc-referee/examples'
import { expect, test } from 'vitest'
import { beginAnyMatch } from 'zinc-referee'
import { withNamesOfToday, withoutAdded } from './records/names.ts'

/** The first line: what was begun, and what viewers saw first. */
interface Header {
  readonly seed: string
  readonly with: readonly string[]
  readonly viewers: readonly string[]
  /** Before which line the seats began to view. */
  readonly opened: number
  readonly views: { readonly [viewer: string]: unknown }
  readonly faults: number
}
/** Each further line: an input or a time, its ruling, and all that was sent then. */
interface Line {
  readonly call: 'submit' | 'report' | 'reportAll' | 'direct' | 'advanceTo'
  readonly args: readonly unknown[]
  readonly said?: unknown
  readonly sent: readonly unknown[]
}
const linesOf = (mode: string) =>
  readFileSync(new URL(`records/${mode}.jsonl`, import.meta.url), 'utf8')
    .trim()
    .split('\n')
    .map((line) => withNamesOfToday(JSON.parse(line))) as [Header, ...Line[]]

/** Modes that are older than the names. */
const recorded = readdirSync(new URL('records/', import.meta.url)).filter((file) => file.endsWith('.jsonl'))

test.each(Object.entries(modes).filter(([name]) => recorded.includes(`${name}.jsonl`)))(
  'what was recorded of %s before names changed gives equal rulings and equal updates, line by line',
  (name, { rulebook }) => {
    const [header, ...lines] = linesOf(name)
    const match = beginAnyMatch(rulebook, { seed: header.seed, with: header.with })
    const view = (viewer: string) => withoutAdded(JSON.parse(match.addViewer(viewer).view))
    expect(view('spectator')).toEqual(header.views['spectator'])
    for (const [n, { call, args, said, sent }] of lines.entries()) {
      if (n === header.opened)
        for (const viewer of header.viewers)
          if (viewer !== 'spectator') expect(view(viewer)).toEqual(header.views[viewer])
      const ruling: unknown = Reflect.apply(match[call], match, args)
      if (call !== 'advanceTo') expect([n, ruling]).toEqual([n, said])
      const updates = match
        .flush()
        .map(({ viewer, at, patch, notices }) => ({ viewer, at, patch: JSON.parse(patch), notices }))
      expect(`${n} ${JSON.stringify(updates)}`).toBe(`${n} ${JSON.stringify(sent)}`)
    }
    expect(match.faults).toHaveLength(header.faults)
  },
)
