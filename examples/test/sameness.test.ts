import { execFileSync } from 'node:child_process'
import { fileURLToPath } from 'node:url'
import { lanternMarket, modes } from '@zinc-referee/examples'
import { expect, test } from 'vitest'
import type { AnyMatch } from 'zinc-referee'
import { checkLaws, playMatch, playToEnd, randomCrowd } from 'zinc-referee/testing'

const seenOf = (match: AnyMatch): string =>
  JSON.stringify([
    match.hash(),
    ...[...match.seats, 'spectator', 'server'].map((viewer) => match.view(viewer)),
  ])

test.each(
  Object.entries(modes).flatMap(([name, { rulebook, demo }]) =>
    ['at random', 'by its own crowd'].map((how) => ({ name, how, rulebook, demo })),
  ),
)(
  '$name played $how: refused inputs change nothing, updates add up to views, record and snapshots give the same match to the byte',
  ({ how, rulebook, demo }) => {
    const count = Math.min(rulebook.plan.seatLimits.max, Math.max(4, rulebook.plan.seatLimits.min))
    const { breaks, faults, moments } = checkLaws(rulebook, {
      seed: 'fair-2',
      seats: (demo.seats ?? []).slice(0, count).map(({ id }) => id),
      with: rulebook.optional,
      until: 60_000,
      moments: 4,
      ...(how === 'by its own crowd' && { crowd: () => demo.crowd?.('fair-2') ?? randomCrowd('fair-2') }),
    })
    expect([breaks, faults]).toEqual([[], []])
    expect(moments).toBeGreaterThan(0)
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
    input: JSON.stringify(match.snapshot()),
    encoding: 'utf8',
  })
  expect(elsewhere).toBe(seenOf(match as AnyMatch))
})
