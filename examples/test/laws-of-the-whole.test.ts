import { type Regatta, reedRegatta } from '@zinc-referee/examples'
import fc from 'fast-check'
import { expect, test } from 'vitest'
import { beginMatch, defineRulebook, minutes } from 'zinc-referee'
import { carryOut, type Deed, deeds, SEATS } from './regatta-deeds.ts'

interface Moves extends ReadonlyArray<{ readonly deed: Deed; readonly wait: number }> {}
/** Settings of every built-in rule of a regatta, at their limits and between them. */
const settings = fc.record({
  rounds: fc.record({
    length: fc.constantFrom(1, 20_000, 100_000, minutes(3), minutes(5)),
    count: fc.constantFrom(1, 3),
  }),
  vitals: fc.record({ max: fc.constantFrom(1, 25, 60, 100) }),
  respawn: fc.record({ after: fc.constantFrom(0, 1, 3000, 9000), protectFor: fc.constantFrom(0, 1, 2000) }),
  credit: fc.record({
    assistWindow: fc.constantFrom(0, 1, 10_000),
    pushWindow: fc.constantFrom(0, 5000),
    assistAt: fc.constantFrom(0, 40, 100),
    points: fc.record({
      kill: fc.integer({ min: -2, max: 3 }),
      assist: fc.nat(2),
      self: fc.integer({ min: -2, max: 0 }),
      team: fc.constant(0),
    }),
  }),
  scores: fc.record({ ranks: fc.constantFrom('competition', 'dense', 'modified', 'ordinal', 'fractional') }),
  roster: fc.record({ grace: fc.constantFrom(0, 1, 60_000) }),
})
type Settings = typeof settings extends fc.Arbitrary<infer S> ? S : never
interface How {
  readonly book?: typeof reedRegatta
  readonly settings?: Settings
  /** Under which id and name a seat sits. */
  readonly called?: (seat: string) => string
  readonly named?: (seat: string) => string
  /** How the match is brought to a time. */
  readonly advance?: (match: Regatta, to: number) => void
}
const straight = (match: Regatta, to: number): void => match.advanceTo(to)

/** Plays moves on the river from the lobby on; time runs on for two minutes at the end. */
function play(
  moves: Moves,
  { book = reedRegatta, settings, called = String, named = called, advance = straight }: How = {},
) {
  const match = beginMatch(book, { seed: 'fair-1', ...(settings && { settings }) })
  for (const seat of SEATS) match.direct('roster.join', { seat: called(seat), name: named(seat) })
  for (const seat of SEATS) match.submit(called(seat), 'roster.ready', {})
  advance(match, 3000)
  const rulings: unknown[] = []
  for (const { deed, wait } of moves) {
    advance(match, match.now + wait)
    const { seat, other } = deed
    rulings.push(carryOut(match, { ...deed, seat: called(seat), other: called(other) }))
  }
  advance(match, match.now + 120_000)
  return { match, rulings, shown: JSON.stringify(match.view('spectator')) }
}
const forMoves = (law: (moves: Moves, how: How) => void, numRuns = 80): void =>
  fc.assert(
    fc.property(deeds, settings, (moves, each) => law(moves, { settings: each })),
    { numRuns },
  )

test('G5, G21: other ids rename every outcome and nothing else; names change only names', () => {
  const ids = new Map(SEATS.map((seat, at) => [seat, ['zz', 'mm', 'aa', 'kk'][at] ?? '']))
  const called = (seat: string): string => ids.get(seat) ?? seat
  const back = (text: string): unknown =>
    JSON.parse(SEATS.reduce((all, seat) => all.replaceAll(`"${called(seat)}"`, JSON.stringify(seat)), text))
  forMoves((moves, how) => {
    const plain = play(moves, how)
    const renamed = play(moves, { ...how, called, named: String })
    expect(back(renamed.shown)).toEqual(JSON.parse(plain.shown))
    expect(back(JSON.stringify(renamed.rulings))).toEqual(JSON.parse(JSON.stringify(plain.rulings)))
    const same = play(moves, { ...how, called: String, named: () => 'Same' })
    expect(JSON.parse(same.shown.replaceAll('"name":"Same"', '"name":""'))).toEqual(
      JSON.parse(plain.shown.replaceAll(/"name":"(\\.|[^"\\])*"/g, '"name":""')),
    )
  })
})

test('G6: rules in another order, or run without code made for them, give the same state', () => {
  const { name, plan } = reedRegatta
  const [turned, alike] = [plan.rules.toReversed(), plan.rules]
  const books = [{ rules: turned }, { rules: alike, generateCode: false }].map((given) =>
    defineRulebook({ name, seats: plan.seatLimits, ...given } as object as Parameters<
      typeof defineRulebook
    >[0]),
  ) as object[]
  forMoves((moves, how) => {
    const { shown, rulings } = play(moves, how)
    for (const book of books) {
      const other = play(moves, { ...how, book: book as typeof reedRegatta })
      expect(JSON.parse(other.shown)).toEqual(JSON.parse(shown))
      expect(other.rulings).toEqual(rulings)
    }
  })
})

test('G7, G15: advancing in any steps is the same as at once, and idle time changes and sends nothing', () => {
  const inSteps = (match: Regatta, to: number): void => {
    let before = match.hash()
    while (match.now < to) {
      const due = match.nextDue ?? Number.POSITIVE_INFINITY
      const step = Math.min(to, Math.max(match.now + 1, match.now + ((match.now * 7) % 900)))
      match.flush()
      match.advanceTo(step)
      const now = match.hash()
      if (due > step) expect([now, match.flush()]).toEqual([before, []])
      before = now
    }
  }
  forMoves((moves, how) => {
    const hash = play(moves, { ...how, advance: inSteps }).match.hash()
    expect(hash).toBe(play(moves, how).match.hash())
  }, 20)
})

test('G8: a pause at any moment shifts what follows, and changes no outcome', () => {
  const pause = 7777
  fc.assert(
    fc.property(deeds, settings, fc.nat(60_000), (moves, each, at) => {
      // What counts on the match clock, such as the grace of the absent, and what pauses by itself stay aside.
      const playing = moves.filter(
        ({ deed: { do: what } }) => !/absent|return|pause|resume|kick|leave/.test(what),
      )
      const plain = play(playing, { settings: each })
      let paused = false
      const later = play(playing, {
        settings: each,
        advance(match, to) {
          const target = to
          if (!paused && target >= 3000 + at && match.view('spectator').phases.now.phase === 'live') {
            paused = true
            if (match.now < 3000 + at) match.advanceTo(3000 + at)
            if (!match.direct('phases.pause', {}).ok) return match.advanceTo(target)
            const left = target - match.now
            match.advanceTo(match.now + pause)
            match.direct('phases.resume', {})
            return match.advanceTo(match.now + left)
          }
          match.advanceTo(target)
        },
      })
      expect(later.rulings).toEqual(plain.rulings)
      const outcome = ({ match }: typeof plain) => {
        const { scores: sums, verdict: end, credit: tally } = match.view('spectator')
        return { sums: sums.sums, end: end.end, tally: tally.tally }
      }
      expect(outcome(later)).toEqual(outcome(plain))
    }),
    { numRuns: 60 },
  )
})

test('G13: the same id again gives the same ruling and the same state', () => {
  forMoves((moves, how) => {
    const { match } = play(moves.slice(0, 20), how)
    for (const [id, seat] of SEATS.entries()) {
      const first = match.submit(seat, 'raft.search', {}, { id })
      const before = match.hash()
      expect(match.submit(seat, 'raft.search', {}, { id })).toEqual(first)
      expect(match.hash()).toBe(before)
    }
  }, 30)
})

test('G17, G18, G20, G22: one verdict a bout at most, nobody who has left wins, numbers never fall, and every bout ends', () => {
  forMoves((moves, how) => {
    const seen = { bouts: 0, verdicts: 0, at: -1, gone: new Set<unknown>() }
    const watch = (match: Regatta, to: number): void => {
      if (seen.at < 0) match.addViewer('spectator')
      match.advanceTo(to)
      for (const { viewer, notices, at } of match.flush())
        if (viewer === 'spectator') {
          for (const { name, cells } of notices) {
            const { seat, winners } = cells as { readonly seat?: string; readonly winners: string[] }
            if (name === 'roster.left') seen.gone.add(seat)
            if (['roster.joined', 'roster.handed-over', 'roster.came-back'].includes(name))
              seen.gone.delete(seat)
            if (name !== 'verdict.reached') continue
            seen.verdicts++
            for (const winner of winners) expect(seen.gone).not.toContain(winner)
          }
          expect(at).toBeGreaterThanOrEqual(seen.at)
          seen.at = at
        }
      const { bout } = match.view('spectator').phases.now
      expect(bout).toBeGreaterThanOrEqual(seen.bouts)
      seen.bouts = bout
    }
    const { match } = play(moves, { ...how, advance: watch })
    if (match.view('spectator').phases.now.paused) match.direct('phases.resume', {})
    watch(match, match.now + minutes(24))
    const { phases } = match.view('spectator')
    expect(['over', 'lobby']).toContain(phases.now.phase)
    expect(seen.verdicts).toBeLessThanOrEqual(seen.bouts)
    if (phases.now.phase === 'over') expect(seen.verdicts).toBe(seen.bouts)
  }, 40)
})

test('G19: facts about different rafts come out the same in any order of one instant', () => {
  const found = SEATS.map((seat, n) => ({ seat, crates: n + 1 }))
  fc.assert(
    fc.property(fc.shuffledSubarray(found, { minLength: found.length }), (order) => {
      const [plain, shuffled] = [found, order].map((list) => {
        const { match } = play([])
        for (const each of list) match.report('raft.found', each)
        return match
      })
      expect(shuffled?.hash()).toBe(plain?.hash())
    }),
  )
})
