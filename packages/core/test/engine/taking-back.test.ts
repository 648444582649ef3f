import fc from 'fast-check'
import { expect, test } from 'vitest'
import { resumeMatch } from 'zinc-referee'
import { playMatch, ViewCopies } from 'zinc-referee/testing'
import { book, SEATS } from '../fixtures/bank-mode.ts'

function building(settings: object = {}) {
  const harness = playMatch(book, SEATS, { settings })
  const match: any = harness.match
  const outcome = (ruling: { readonly ok: boolean; readonly code?: string }) => ruling.ok || ruling.code
  return {
    match: harness.match,
    replay: harness.replay,
    does: (seat: string, what: string, input: object = {}) =>
      outcome(match.submit(seat, `bank.${what}`, input)),
    back: (seat = 'otter') => outcome(harness.match.submit(seat, 'turns.take-back', {})),
    stones: () =>
      Object.values(harness.match.view('spectator').bank.stones).map(
        ({ spot, face = '?' }) => `${spot} ${face}`,
      ),
  }
}

test('taken back action by action, to the start of the turn: rows, scores, budgets, steps', () => {
  const { match, does, back, stones } = building()
  const before = match.view('heron')
  does('otter', 'lay', { spot: 2 })
  does('otter', 'lay', { spot: 3 })
  does('otter', 'turn', { spot: 3, up: false })
  expect([stones(), back()]).toEqual([['2 reed', '3 ?'], true])
  does('otter', 'tie', { spot: 2 })
  does('otter', 'lift', { spot: 2 })
  match.submit('otter', 'turns.close-step', {})
  expect([stones(), match.view('spectator').turns.now.step]).toEqual([['3 silt'], 'rest'])
  expect(back()).toBe(true)
  expect(match.view('spectator').turns.now.step).toBe('build')
  expect(back()).toBe(true)
  expect(stones().sort()).toEqual(['2 reed', '3 silt'])
  const tied = match.view('heron').bank.cord.on ?? ''
  expect(match.view('heron').bank.stones[tied]?.spot).toBe(2)
  expect([back(), back(), back(), back()]).toEqual([true, true, true, 'nothing-to-take-back'])
  expect(match.view('heron')).toEqual(before)
})

test.each([
  ['chance was drawn from', 'roll', {}],
  ['somebody saw what was hidden', 'turn', { spot: 1, up: true }],
  ['somebody was told something apart', 'whisper', {}],
  ['the mode says so', 'swear', {}],
])('it stands when %s, and all before it', (_, what, input) => {
  const { does, back, stones } = building()
  does('otter', 'lay', { spot: 1 })
  does('otter', 'turn', { spot: 1, up: false })
  expect(does('otter', what, input)).toBe(true)
  expect(back()).toBe('nothing-to-take-back')
  does('otter', 'lay', { spot: 3 })
  expect(back()).toBe(true)
  expect(stones().length).toBe(1)
})

test('it stands when another has done something, when time has, and when the turn is over; not where it was refused', () => {
  const { match, does, back } = building()
  does('otter', 'lay', { spot: 1 })
  expect(does('heron', 'lay', { spot: 1 })).toBe('not-your-turn')
  expect(back('heron')).toBe('not-your-turn')
  does('heron', 'say', { line: 'nice' })
  expect(back()).toBe('nothing-to-take-back')
  // What changes nothing could have changed what is hidden: so it ends it, too.
  does('otter', 'lay', { spot: 1 })
  match.report('bank.nod', {})
  expect(back()).toBe('nothing-to-take-back')
  does('otter', 'lay', { spot: 2 })
  match.submit('otter', 'turns.pass', {})
  expect(back()).toBe('not-your-turn')
  expect(back('heron')).toBe('nothing-to-take-back')
  expect(building({ turns: { takingBack: false } }).back()).toBe('cannot-take-back')
})

test('a timer that was put off, stopped or lit is as it was; one that has fired in between stays gone', () => {
  const { match, does, back } = building()
  does('otter', 'fire', { ms: 5000 })
  does('otter', 'fire', { ms: 2000 })
  does('otter', 'fire', { ms: 0 })
  const due = () => match.snapshot().time.timers.find(({ timer }) => timer === 'bank.kiln')?.due
  expect(due()).toBe(undefined)
  back()
  expect(due()).toBe(7000)
  back()
  expect(due()).toBe(5000)
  match.advanceTo(match.now + 6000)
  expect([due(), back(), due()]).toEqual([undefined, true, undefined])
})

const act = fc.oneof(
  fc.record({ what: fc.constant('lay'), input: fc.record({ spot: fc.integer({ min: 1, max: 2 }) }) }),
  fc.record({
    what: fc.constantFrom('lift', 'lift', 'tie', 'tag'),
    input: fc.record({ spot: fc.integer({ min: 1, max: 2 }) }),
  }),
  fc.record({
    what: fc.constant('turn'),
    input: fc.record({ spot: fc.integer({ min: 1, max: 2 }), up: fc.boolean() }),
  }),
  fc.record({ what: fc.constant('fire'), input: fc.record({ ms: fc.constantFrom(0, 900, 60_000) }) }),
  fc.record({ what: fc.constantFrom('roll', 'whisper', 'back', 'back', 'flush'), input: fc.constant({}) }),
)

test('taken back, a stone has the name that it had; the one that it had meanwhile never comes again', () => {
  const { match, does, back } = building()
  does('otter', 'lay', { spot: 1 })
  const name = () => Object.keys(match.view('heron').bank.stones)[0] ?? ''
  const first = name()
  const seen = [first]
  for (let times = 0; times < 3; times++) {
    expect(does('otter', 'rename', { stone: Object.keys(match.view('otter').bank.stones)[0] })).toBe(true)
    expect(seen).not.toContain(name())
    seen.push(name())
    expect(back()).toBe(true)
    expect(name()).toBe(first)
  }
  const resumed = resumeMatch(book, match.snapshot())
  expect(resumed.view('heron')).toEqual(match.view('heron'))
})

test('what viewers saw go comes back to them: a stone, its tag, the chalk, and what is done afterwards', () => {
  const { match, does, back } = building()
  const copies = new ViewCopies(match)
  copies.addViewer(...SEATS, 'spectator')
  for (const what of ['lay', 'tag']) does('otter', what, { spot: 2 })
  copies.flush()
  const before = match.view('vole')
  for (const what of ['lift', 'back', 'tag', 'back']) {
    expect(what === 'back' ? back() : does('otter', what, { spot: 2 })).toBe(true)
    copies.flush()
    expect(copies.differences()).toEqual([])
  }
  expect(match.view('vole')).toEqual(before)
})

test('laws: all taken back, nobody’s view has changed; patched it is the fresh one; replayed and resumed it is the same', () => {
  fc.assert(
    fc.property(fc.array(act, { minLength: 10, maxLength: 30 }), fc.nat(30), (acts, cut) => {
      const { match, does, back, replay } = building()
      const viewers = [...SEATS, 'spectator']
      const copies = new ViewCopies(match)
      copies.addViewer(...viewers)
      const flush = () => {
        copies.flush()
        expect(copies.differences()).toEqual([])
      }
      // By how many actions can be taken back, what everybody saw before them.
      let seen: { readonly kept: number; readonly was: unknown }[] = []
      const kept = () => match.snapshot().past?.length ?? 0
      const shown = () => viewers.map((viewer) => match.view(viewer))
      let resumed: any
      for (const [n, { what, input }] of acts.entries()) {
        if (n === cut) resumed = resumeMatch(book, match.snapshot())
        if (what === 'flush') flush()
        // To be asked whether it could be taken back changes nothing: it is tried, and undone.
        const hash = match.hash()
        match.options('otter', 'turns.take-back')
        expect(match.hash()).toBe(hash)
        const [before, was] = [kept(), shown()]
        const done = what === 'flush' || (what === 'back' ? back() : does('otter', what, input))
        if (what === 'back' && done === true) expect(shown()).toEqual(seen.pop()?.was)
        else if (kept() > before) seen.push({ kept: before, was })
        else if (kept() === 0) seen = []
        if (what === 'back') resumed?.submit('otter', 'turns.take-back', {})
        else if (what !== 'flush') resumed?.submit('otter', `bank.${what}`, input)
        if (resumed !== undefined) expect(resumed.hash()).toBe(match.hash())
      }
      while (back() === true) expect(shown()).toEqual(seen.pop()?.was)
      flush()
      expect(match.faults).toEqual([])
      expect(replay().differs).toBe(undefined)
    }),
    { numRuns: 40 },
  )
})
