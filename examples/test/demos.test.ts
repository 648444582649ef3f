import { modes } from '@zinc-referee/examples'
import { expect, test } from 'vitest'
import { beginAnyMatch, formatElapsed } from 'zinc-referee'
import { playToEnd } from 'zinc-referee/testing'

/** Fast modes are shown for a while, table modes to their end. */
const FAST = 3 * 60_000
const TABLE = 30 * 60_000

/** Read what has changed before you write them again: npx vitest run examples/test/demos.test.ts -u */
test.each(Object.entries(modes))('the demo of %s is the one in its file', async (name, mode) => {
  const { rulebook, demo } = mode
  const match = beginAnyMatch(rulebook, { seed: 'fair-1' })
  const seats = (demo.seats ?? []).slice(0, rulebook.plan.seatLimits.max)
  match.addViewer('spectator')
  for (const { id, name: called } of seats) match.direct('roster.join', { seat: id, name: called })
  const crowd = demo.crowd?.('fair-1') ?? { every: 1000, beat() {} }
  for (let beat = 0; beat < 10; beat++) crowd.beat(match, () => true)
  const lines = [
    `ready by themselves: ${seats.filter(({ id }) => match.state.roster.seats.of(id).ready).length}`,
  ]
  for (const { id } of seats) match.submit(id, 'roster.ready', {})
  playToEnd(match, crowd, match.state.turns === undefined ? FAST : TABLE, () => {
    for (const notice of match.flush().flatMap(({ notices }) => notices)) {
      const line = demo.tell?.(notice, (seat) => seats.find(({ id }) => id === seat)?.name ?? String(seat))
      if (line)
        lines.push(`${formatElapsed(notice.at)} ${line.text}${line.aside ? `   (${line.aside})` : ''}`)
    }
  })
  const { kind, winners, reason } = match.state.verdict?.end ?? {}
  const end = kind === undefined ? 'it goes on' : `${kind} ${winners?.join(', ')} ${reason}`
  const story = [...lines, end, demo.picture?.(match) ?? ''].join('\n').trimEnd()
  await expect(`${story}\n`).toMatchFileSnapshot(`demos/${name}.txt`)
  expect(match.faults).toEqual([])
})
