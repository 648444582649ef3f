import { modes } from '@zinc-referee/examples'
import { expect, test } from 'vitest'
import { beginAnyMatch, formatElapsed } from 'zinc-referee'
import { playToEnd } from 'zinc-referee/testing'

const LENGTH = 3 * 60_000

/** Read what has changed before you write them again: npx vitest run examples/test/demos.test.ts -u */
test.each(Object.entries(modes))(
  'the first three minutes of the demo of %s are those in its file',
  async (name, mode) => {
    const { rulebook, demo } = mode
    const match = beginAnyMatch(rulebook, { seed: 'fair-1' })
    const seats = (demo.seats ?? []).slice(0, rulebook.plan.room.max)
    match.addViewer('spectator')
    for (const { id, name: called } of seats) match.direct('roster.join', { seat: id, name: called })
    for (const { id } of seats) match.submit(id, 'roster.ready', {})
    const lines: string[] = []
    playToEnd(match, demo.crowd?.('fair-1') ?? { every: 1000, beat() {} }, LENGTH, () => {
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
  },
)
