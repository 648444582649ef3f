import { execFileSync } from 'node:child_process'
import { fileURLToPath } from 'node:url'
import { lanternMarket, modes } from '@zinc-referee/examples'
import { expect, test } from 'vitest'
import { type AnyMatch, beginAnyMatch, replayRecord, resumeAnyMatch } from 'zinc-referee'
import { auditSight, playMatch, playToEnd, randomCrowd } from 'zinc-referee/testing'

const LENGTH = 60_000
const text = (value: unknown): string => JSON.stringify(value)
const seenOf = (match: AnyMatch): string =>
  text([match.hash(), ...[...match.seats, 'spectator', 'server'].map((viewer) => match.view(viewer))])

test.each(Object.entries(modes))(
  '%s, watched by all, asked for options all the time and audited in between, is replayed and resumed to the same views to the byte',
  (_name, { rulebook, demo }) => {
    const lines: string[] = []
    const match = beginAnyMatch(rulebook, {
      seed: 'fair-1',
      with: rulebook.optional,
      record: (line) => lines.push(line),
    })
    const seats = (demo.seats ?? []).map(({ id }) => id).slice(0, Math.max(3, rulebook.plan.room.min))
    for (const seat of seats.slice(0, rulebook.plan.room.max))
      match.direct('roster.join', { seat, name: seat })
    for (const seat of match.seats) match.submit(seat, 'roster.ready', {})
    match.advanceTo(match.nextDue ?? 0)
    for (const viewer of [...match.seats, 'spectator', 'server']) match.addViewer(viewer)
    const moments: {
      readonly snapshot: string
      readonly line: number
      readonly seen: string
      readonly at: number
    }[] = []
    let beats = 0
    const crowd = randomCrowd('fair-1')
    playToEnd(match, crowd, LENGTH, () => {
      match.flush()
      if (beats === 20) auditSight(rulebook, { record: lines.join('\n'), checks: 1, comparisons: 20 })
      if (beats++ % 25 === 0)
        moments.push({
          snapshot: text(match.snapshot()),
          line: lines.length,
          seen: seenOf(match),
          at: match.now,
        })
    })
    const end = seenOf(match)
    for (const { snapshot, line, seen, at } of moments) {
      const resumed = resumeAnyMatch(rulebook, JSON.parse(snapshot))
      expect(seenOf(resumed), `resumed at ${at}`).toBe(seen)
      const replayed = replayRecord(rulebook, lines.slice(0, line).join('\n'), { until: at })
      expect(replayed.differs).toBeUndefined()
      expect(seenOf(replayed.match), `replayed to ${at}`).toBe(seen)
      const gone = resumeAnyMatch(rulebook, JSON.parse(snapshot), { tail: lines.slice(line).join('\n') })
      gone.advanceTo(Math.max(gone.now, match.now))
      expect(seenOf(gone), `resumed at ${at} with the tail`).toBe(end)
    }
    expect(moments.length).toBeGreaterThan(1)
  },
)

test('a snapshot that another process goes on from gives the same views to the byte there', () => {
  const { match } = playMatch(lanternMarket, ['otter', 'heron', 'vole'], { with: lanternMarket.optional })
  playToEnd(match, randomCrowd('fair-1'), 20_000)
  const script = `
    import { lanternMarket } from '@zinc-referee/examples'
    import { resumeAnyMatch } from 'zinc-referee'
    import { readFileSync } from 'node:fs'
    const match = resumeAnyMatch(lanternMarket, JSON.parse(readFileSync(0, 'utf8')))
    const viewers = [...match.seats, 'spectator', 'server']
    process.stdout.write(JSON.stringify([match.hash(), ...viewers.map((viewer) => match.view(viewer))]))`
  const elsewhere = execFileSync(process.execPath, ['--input-type=module', '-e', script], {
    cwd: fileURLToPath(new URL('..', import.meta.url)),
    input: text(match.snapshot()),
    encoding: 'utf8',
  })
  expect(elsewhere).toBe(seenOf(match as AnyMatch))
})
