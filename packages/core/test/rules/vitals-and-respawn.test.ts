import { expect, test } from 'vitest'
import { at, fight, hit, news } from '../fixtures/fight-mode.ts'

test('VI1: an amount of 0 is allowed and does nothing; a negative one is bad input', () => {
  const { match } = fight()
  const before = match.hash()
  expect(hit(match, 'otter', 'heron', 0)).toEqual({ ok: true })
  expect(hit(match, 'otter', 'heron', -5)).toMatchObject({ code: 'bad-input' })
  expect(match.hash()).toBe(before)
})

test('VI2: of two blows at one ms the second on a downed target is refused, with no mark and no credit', () => {
  const { match } = fight()
  hit(match, 'otter', 'heron', 100)
  expect(hit(match, 'otter', 'vole', 100)).toMatchObject({ code: 'target-down' })
  expect(match.state.credit.tally.of('vole')).toMatchObject({ kills: 0, assists: 0 })
})

test('VI3, VI14: in one volley both blows land, the one that reached 0 is the last, the rest is spilled and leaves no mark', () => {
  const { match } = fight()
  match.addViewer('spectator')
  const rulings = match.reportAll('moves.hit', [
    { target: 'otter', by: 'heron', amount: 60 },
    { target: 'otter', by: 'vole', amount: 60 },
    { target: 'otter', by: 'heron', amount: 60 },
  ])
  expect(rulings).toEqual([{ ok: true }, { ok: true }, { ok: true }])
  expect(news(match, 'credit.given')).toEqual([
    { seat: 'otter', killer: 'vole', kind: 'kill', assists: ['heron'], revenge: false },
  ])
  expect(match.state.vitals.body.of('otter').health).toBe(0)
})

test('VI4: a blow on a seat that has left is refused; one by such a seat lands and is credited', () => {
  const { match } = fight({}, ['otter', 'heron', 'vole', 'newt'])
  match.submit('newt', 'roster.leave', {})
  expect(hit(match, 'newt', 'heron')).toMatchObject({ code: 'not-in-play' })
  match.submit('vole', 'roster.leave', {})
  expect(hit(match, 'otter', 'vole', 100)).toEqual({ ok: true })
  expect(match.state.credit.tally.of('vole').kills).toBe(1) // CR11: the credit stays with the seat that has left
  expect(match.state.scores.sums.of('vole').score).toBe(1)
})

test('VI7: protection is half-open, and two protected seats that strike each other in one volley are both blocked and both bare', () => {
  const { match } = fight()
  match.report('moves.shield', { seat: 'otter', ms: 1000 })
  expect(hit(match, 'otter', 'heron')).toEqual({ ok: true }) // at the ms it begins
  expect(match.state.vitals.body.of('otter').health).toBe(100)
  at(match, 999)
  hit(match, 'otter', 'heron')
  expect(match.state.vitals.body.of('otter').health).toBe(100)
  at(match, 1000)
  hit(match, 'otter', 'heron')
  expect(match.state.vitals.body.of('otter').health).toBe(75)
  for (const seat of ['otter', 'heron']) match.report('moves.shield', { seat, ms: 1000 })
  match.reportAll('moves.hit', [
    { target: 'otter', by: 'heron' },
    { target: 'heron', by: 'otter' },
  ])
  expect([match.state.vitals.body.of('otter').health, match.state.vitals.body.of('heron').health]).toEqual([
    75, 100,
  ])
  expect([
    match.state.vitals.body.of('otter').protectedUntil,
    match.state.vitals.body.of('heron').protectedUntil,
  ]).toEqual([undefined, undefined])
})

test('RE1: the delay is fixed; several down at one instant all come back exactly 3,000 ms later, and not 1 ms before', () => {
  const { match } = fight({}, ['otter', 'heron', 'vole', 'newt'])
  at(match, 777)
  match.reportAll(
    'moves.hit',
    ['otter', 'heron', 'vole'].map((target) => ({ target, by: 'newt', amount: 100 })),
  )
  const down = () => ['otter', 'heron', 'vole'].map((seat) => match.state.vitals.body.of(seat).down)
  at(match, 3776)
  expect(down()).toEqual([true, true, true])
  expect(match.view('newt').respawn.back['otter']?.due).toBe(3777)
  at(match, 3777)
  expect(down()).toEqual([false, false, false])
  expect(match.view('newt').vitals.body['otter']).toMatchObject({ health: 100, protectedUntil: 5777 })
})

test('RE2: with a delay of 0 a seat is back in a step of its own at the same ms; down and back are both told', () => {
  const { match } = fight({ respawn: { after: 0 } })
  match.addViewer('spectator')
  hit(match, 'otter', 'heron', 100)
  expect(match.submit('otter', 'moves.wave', {})).toEqual({ ok: true })
  const told = match.flush().flatMap(({ notices }) => notices.map(({ name }) => name))
  expect(told.filter((name) => name === 'credit.given' || name === 'respawn.back')).toEqual([
    'credit.given',
    'respawn.back',
  ])
})

test('RE11: a respawn due at the ms the round ends does not take place; the down stays counted', () => {
  const { match } = fight()
  at(match, 297_000)
  hit(match, 'otter', 'heron', 100)
  at(match, 300_000)
  expect(match.state.vitals.body.of('otter').down).toBe(true)
  expect(match.state.respawn.back.of('otter').due).toBeUndefined()
  expect(match.state.credit.tally.of('otter').deaths).toBe(1)
  match.advanceTo(400_000)
  expect(match.state.vitals.body.of('otter').down).toBe(true)
})

test('RE12: who is absent when due comes back in the step of the return', () => {
  const { match } = fight()
  hit(match, 'otter', 'heron', 100)
  match.direct('roster.absent', { seat: 'otter' })
  at(match, 10_000)
  expect(match.state.vitals.body.of('otter').down).toBe(true)
  match.direct('roster.join', { seat: 'otter', name: 'otter' })
  expect(match.state.vitals.body.of('otter').down).toBe(false)
  expect(match.state.vitals.lives.of('otter').life).toBe(2)
})

test('RE18: what was done in the last life is refused as stale, from the step of the return on', () => {
  const { match } = fight()
  const asHeron = (life: number) =>
    match.report('moves.hit', { target: 'vole', by: 'heron' }, { lives: { heron: life } })
  expect(asHeron(1)).toEqual({ ok: true })
  hit(match, 'heron', 'otter', 100)
  expect(asHeron(1)).toEqual({ ok: true }) // it left the hand before
  at(match, 3000)
  expect(asHeron(1)).toMatchObject({ code: 'stale-life', details: { seat: 'heron', life: 2 } })
  expect(match.submit('heron', 'moves.wave', {}, { life: 1 })).toMatchObject({ code: 'stale-life' })
  expect(match.submit('heron', 'moves.wave', {}, { life: 2 })).toEqual({ ok: true })
})

test('a seat that leaves while down never comes back and breaks nothing', () => {
  const { match, replay } = fight()
  match.addViewer('spectator')
  hit(match, 'otter', 'heron', 100)
  match.submit('otter', 'roster.leave', {})
  at(match, 60_000)
  expect(match.state.vitals.body.of('otter').down).toBe(true)
  expect(match.faults).toEqual([])
  expect(news(match, 'respawn.back')).toEqual([])
  expect(hit(match, 'vole', 'heron')).toEqual({ ok: true })
  at(match, 300_000)
  expect(match.state.verdict.end).toMatchObject({ kind: 'win', winners: ['heron'] })
  expect(replay().differs).toBeUndefined()
})

test('VI34: everyone sees when a life began and when its seat went down', () => {
  const { match } = fight({ respawn: { after: 2000 } })
  const times = () => {
    const { body, lives } = match.view('spectator').vitals
    return [lives['otter']?.began, body['otter']?.downAt]
  }
  match.advanceTo(4000)
  const seen = [times()]
  hit(match, 'otter', 'heron', 100)
  seen.push(times())
  match.advanceTo(6500)
  expect([...seen, times()]).toEqual([
    [3000, null],
    [3000, 4000],
    [6000, null],
  ])
})
