import { modes } from '@zinc-referee/examples'
import { expect, test } from 'vitest'
import { beginAnyMatch, type CellDescription, formatElapsed } from 'zinc-referee'
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

test.each(Object.entries(modes))(
  'the crowd of %s moves the seats that it drives, and no others, and nobody who is away',
  (_, { rulebook, demo }) => {
    const acted: string[] = []
    const match = beginAnyMatch(rulebook, {
      seed: 'fair-1',
      record: (line) => {
        const { submit, seat, no } = JSON.parse(line)
        if (submit !== undefined && no === undefined) acted.push(seat)
      },
    })
    const count = Math.max(2, rulebook.plan.seatLimits.min)
    for (const { id } of demo.seats?.slice(0, count) ?? [])
      match.direct('roster.join', { seat: id, name: id })
    for (const seat of match.seats) match.submit(seat, 'roster.ready', {})
    match.advanceTo(match.nextDue ?? 0)
    const crowd = demo.crowd?.('fair-1') ?? { every: 1000, beat() {} }
    const movedBy = (drives: (seat: string) => boolean, beats: number): readonly string[] => {
      acted.length = 0
      for (let beat = 0; beat < beats && acted.length === 0; beat++) {
        crowd.beat(match, drives)
        match.advanceTo(match.now + crowd.every)
      }
      return acted
    }
    const [driven = '', other = ''] = match.seats
    expect(movedBy(() => false, 5)).toEqual([])
    const moved = movedBy((seat) => seat === driven, 400)
    expect(new Set(moved)).toEqual(new Set(rulebook.name === 'pike-pond' ? [] : [driven])) // fish swim by facts
    match.direct('roster.absent', { seat: other })
    expect(movedBy((seat) => seat === other, 50)).toEqual([])
    expect(match.faults).toEqual([])
  },
)

/** A value that a cell may have: another one for each `n`. */
function sample({ kind, values = [], of, least = 0 }: CellDescription, n: number): unknown {
  const inner = (at: number): unknown => of && sample(of, at)
  const byKind: { readonly [kind: string]: unknown } = {
    choice: values[n % values.length],
    flag: n % 2 === 1,
    maybe: n % 2 === 1 ? inner(n) : null,
    seat: ['otter', 'heron', 'vole'][n % 3],
    list: Array.from({ length: n % 3 }, (_, at) => inner(n + at)),
    json: [],
    text: 'a word',
  }
  return kind in byKind ? byKind[kind] : least + n
}

test.each(Object.entries(modes))(
  'what the demo of %s tells of any notice is as it was read',
  async (mode, { rulebook, demo }) => {
    const { rules } = beginAnyMatch(rulebook, { seed: 'fair-1', with: rulebook.optional }).describe()
    const told = rules.flatMap((rule) =>
      Object.entries(rule.events).flatMap(([event, { cells }]) => {
        const name = `${rule.name}.${event}`
        return Array.from({ length: 6 }, (_, n) => {
          const given = Object.fromEntries(Object.entries(cells).map(([cell, how]) => [cell, sample(how, n)]))
          const line = demo.tell?.({ at: 0, until: 0, name, cells: given }, (seat) =>
            String(seat).toUpperCase(),
          )
          return line && `${name}: ${line.text}${line.aside ? `   (${line.aside})` : ''}`
        })
      }),
    )
    await expect(`${[...new Set(told)].filter(Boolean).join('\n')}\n`).toMatchFileSnapshot(
      `demos/${mode}-told.txt`,
    )
  },
)
