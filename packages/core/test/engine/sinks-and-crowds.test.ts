import { expect, test } from 'vitest'
import { beginMatch, everyone, int, replayRecord } from 'zinc-referee'
import { beatOnce, playMatch, playToEnd, randomCrowd } from 'zinc-referee/testing'
import { broken, SEATS } from '../fixtures/broken-mode.ts'
import { fact } from '../fixtures/inputs.ts'

test('a crowd that throws is a fault, and play goes on', () => {
  const { match }: any = playMatch(broken({}), SEATS)
  const crowd = { every: 500, beat: () => (undefined as any).deep }
  playToEnd(match, crowd, match.now + 2000)
  beatOnce(match, randomCrowd('fair-1'))
  expect(match.faultCounts).toEqual({ 'crowd beat': 4 })
})

test('200,000 events in one step reach the server, and the next input is taken', () => {
  const book = broken({
    events: { rang: { n: int().seenBy(everyone) } },
    facts: {
      peal: fact({}, (match) => {
        for (let n = 0; n < 200_000; n++) match.emit('rang', { n })
      }),
    },
  })
  const { match }: any = playMatch(book, SEATS)
  match.addViewer('server')
  match.flush()
  expect(match.report('stall.peal', {})).toEqual({ ok: true })
  expect(match.flush()[0].events).toHaveLength(200_000)
  expect(match.submit('otter', 'stall.fill', {})).toEqual({ ok: true })
})

test('a sink that throws at any line: nothing of that input has happened, and handed in again it is as if it never had', () => {
  const book = broken({
    facts: {
      drop: fact({ n: int() }, (match, { n }) => {
        match.own.jars.of('otter').n -= n
      }),
    },
    timers: {
      soon: (match: any) => {
        match.own.jars.of('heron').n += 10
      },
    },
    actions: { later: { input: {}, decide: (match: any) => match.timers.start('soon', { in: 0 }) } },
  })
  const deeds: ((match: any) => unknown)[] = [
    (match) => match.direct('roster.join', { seat: 'otter', name: 'Otter' }),
    (match) => match.direct('roster.join', { seat: 'heron', name: 'Heron' }),
    (match) => match.direct('phases.start', {}),
    (match) => match.submit('otter', 'stall.fill', {}), // refused: nobody plays yet
    (match) => match.advanceTo(3000),
    (match) => match.submit('otter', 'stall.fill', {}, { id: 1 }),
    (match) => match.submit('otter', 'stall.later', {}, { id: 2 }),
    (match) => match.report('stall.drop', { n: 1 }),
    (match) => match.reportAll('stall.drop', [{ n: 1 }, { n: 'x' }, { n: 2 }]),
    (match) => match.direct('match.set', { rule: 'rounds', settings: { length: 30_000 } }),
    ...Array.from({ length: 260 }, () => (match: any) => match.submit('heron', 'stall.fill', {})),
  ]
  const play = (failsAt: number, whole: boolean): { readonly end: string; readonly lines: number } => {
    const [lines, seen]: [string[], string[]] = [[], []]
    let calls = 0
    const match: any = beginMatch(book, {
      seed: 'fair-1',
      record(line: string) {
        if (calls++ === failsAt) throw new Error('the disk is full')
        lines.push(line)
      },
    } as any)
    for (const deed of deeds) {
      const before = match.hash()
      try {
        seen.push(JSON.stringify(deed(match)) ?? '')
      } catch (error) {
        expect(String(error)).toContain('the disk is full')
        expect(match.hash()).toBe(before)
        seen.push(JSON.stringify(deed(match)) ?? '')
      }
    }
    if (whole) {
      match.close()
      expect(replayRecord(book, lines.join('\n')).differs).toBeUndefined()
    }
    return { end: JSON.stringify([seen, match.hash()]), lines: lines.length }
  }
  const { end, lines } = play(-1, true)
  for (const at of [...Array.from({ length: 14 }, (_, n) => n + 1), 256, 257, 258, 259])
    expect([at, play(at, true).end]).toEqual([at, end])
  expect(lines).toBeGreaterThan(260)
})

test('a record has inputs as they were understood, with their defaults, and as they came if they were not', () => {
  const lines: string[] = []
  const match: any = beginMatch(broken({ facts: { drop: fact({ n: int(7) }, () => undefined) } }), {
    seed: 'fair-1',
    record: (line: string) => lines.push(line),
  } as any)
  match.report('stall.drop', {})
  match.report('stall.drop', { n: 'many' })
  match.close()
  expect(
    lines
      .slice(1)
      .filter((line) => line.includes('stall.drop'))
      .map((line) => JSON.parse(line).input),
  ).toEqual([{ n: 7 }, { n: 'many' }])
})
