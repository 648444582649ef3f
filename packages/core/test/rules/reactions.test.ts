import fc from 'fast-check'
import { expect, test } from 'vitest'
import { defineRule, defineRulebook, resumeMatch } from 'zinc-referee'
import {
  mostAtTime,
  mostRounds,
  reaction,
  reactions,
  rounds,
  scores,
  turns,
  verdict,
} from 'zinc-referee/rules'
import { playMatch } from 'zinc-referee/testing'
import { book, play, reactionsMatch, SEATS, wishes } from '../fixtures/reactions-mode.ts'

test('TU27: in the order of turns from the opener on, one at a time, each with its whole time; then what hung on it is done', () => {
  const { at, does, decline, asked, log, turn, match } = reactionsMatch()
  does('otter', 'stay')
  at(1000)
  expect(does('heron', 'wish')).toBe(true)
  expect(asked()).toEqual(['vole newt otter'])
  expect([does('newt', 'hush'), decline('newt'), does('heron', 'hush')]).toEqual(Array(3).fill('not-asked'))
  expect(does('heron', 'stay')).toBe('window-open')
  for (const action of ['turns.pass', 'turns.close-step'] as const)
    expect(match.submit('heron', action, {})).toMatchObject({ code: 'window-open' })
  at(2500)
  expect(decline('vole')).toBe(true)
  at(4499)
  expect(asked()).toEqual(['newt otter'])
  at(4500) // its two seconds are over
  expect(asked()).toEqual(['otter'])
  expect(log()).toEqual(['otter ended, done'])
  expect(decline('otter')).toBe(true)
  expect(log().slice(1)).toEqual(['heron: nobody', 'heron ended, done'])
  expect([asked(), turn().seat]).toEqual([[], 'vole'])
})

test('TU27: first come, all are asked at once, and one time is for all', () => {
  const { at, does, decline, asked, log } = reactionsMatch({ answers: 'first-come' })
  does('otter', 'wish')
  expect(does('newt', 'spoil')).toBe(true)
  expect(log()).toEqual(['newt spoils it', 'otter: newt', 'otter ended, done'])
  does('heron', 'wish')
  at(1000)
  expect([decline('newt'), does('newt', 'hush')]).toEqual([true, 'not-asked'])
  at(1999)
  expect(asked()).toEqual(['vole otter'])
  at(2000)
  expect([asked(), log().at(-2)]).toEqual([[], 'heron: nobody'])
})

test('TU26: a window within a window: the outer one’s time stands still; the newest closes first; not deeper than allowed', () => {
  const { at, does, decline, asked, windows, log, match } = reactionsMatch({ depth: 2 })
  does('otter', 'wish')
  at(500)
  expect(does('heron', 'hush')).toBe(true)
  expect(asked()).toEqual(['vole newt', 'vole newt otter']) // heron has answered, and has opened one of its own
  expect(decline('vole', 0)).toBe('not-now') // the outer one waits
  expect(does('vole', 'hush')).toBe('too-deep')
  expect(windows().map(([, { ends }]) => ends)).toEqual([null, 2500])
  for (const seat of ['vole', 'newt', 'otter']) decline(seat)
  expect(log()).toEqual(['heron: nobody'])
  expect([asked(), windows()[0]?.[1].ends]).toEqual([['vole newt'], 2500]) // vole’s whole time, from now
  at(1500)
  expect(does('vole', 'spoil')).toBe(true)
  expect(log().slice(1)).toEqual(['vole spoils it', 'otter: heron vole', 'otter ended, done'])
  expect(match.submit('vole', 'reactions.decline', { window: 'gone' })).toMatchObject({
    code: 'no-such-target',
  })
})

test('TU26: first come, the outer window goes on with the time that it had left', () => {
  const { at, does, decline, windows } = reactionsMatch({ answers: 'first-come' })
  does('otter', 'wish')
  at(1500)
  does('heron', 'hush')
  at(3000)
  for (const seat of ['otter', 'vole', 'newt']) decline(seat)
  expect(windows().map(([, { ends, asked }]) => [ends, asked])).toEqual([[3500, ['vole', 'newt']]])
  at(3499)
  expect(windows().length).toBe(1)
  at(3500)
  expect(windows().length).toBe(0)
})

test('TU28: those who can do nothing are asked all the same, and time is the same; where that is open, they are passed over', () => {
  const hidden = reactionsMatch()
  hidden.match.direct('wishes.breath', { left: 0 })
  hidden.does('otter', 'wish')
  hidden.at(5999)
  expect(hidden.asked()).toEqual(['newt'])
  hidden.at(6000)
  expect(hidden.asked()).toEqual([])
  const open = reactionsMatch({ openIdle: false })
  expect(open.does('otter', 'wish')).toBe(true)
  expect(open.asked()).toEqual(['heron vole newt'])
})

test('TU28: where nobody can react and that need not be hidden, the window closes in the step that opens it', () => {
  const book = defineRulebook({
    name: 'calls',
    seats: { min: 2, max: 4 },
    rules: [turns({ steps: [play] }), reactions({ openIdle: false }), verdict({}), calls],
  })
  const { match } = playMatch(book, ['otter', 'heron', 'vole'])
  match.submit('otter', 'calls.call', {})
  expect(match.view('spectator').reactions.windows).toEqual({})
  match.submit('heron', 'calls.call', {})
  expect(Object.values(match.view('spectator').reactions.windows)).toMatchObject([{ asked: ['otter'] }])
})
const calls = defineRule({
  name: 'calls',
  needs: [turns, reactions],
  actions: {
    call: {
      when: play,
      input: {},
      decide: (match, seat) => match.use(reactions).open({ kind: 'call', opener: seat }),
    },
    /** Only otter can. */
    answer: {
      when: reaction('call'),
      input: {},
      decide: (_, seat) => (seat === 'otter' ? undefined : ({ ok: false, code: 'mute' } as const)),
    },
  },
})

test('TU29: the opener leaves: its window and those within it close as if all had declined; who is asked and leaves has declined', () => {
  const { does, match, asked, log, turn } = reactionsMatch()
  does('otter', 'wish')
  does('heron', 'hush')
  does('vole', 'hush')
  expect(asked()).toEqual(['vole newt', 'newt otter', 'newt otter heron'])
  match.submit('heron', 'roster.leave', {})
  expect(log()).toEqual(['vole: nobody', 'heron: nobody'])
  expect(asked()).toEqual(['vole newt'])
  match.submit('otter', 'roster.leave', {})
  expect(log().slice(2)).toEqual(['otter: nobody', 'otter ended, left'])
  expect([asked(), turn().seat]).toEqual([[], 'vole'])
})

test('who goes out while it is asked has declined', () => {
  const { does, match, asked } = reactionsMatch()
  does('otter', 'wish')
  match.direct('wishes.out', { seat: 'heron' })
  match.direct('wishes.out', { seat: 'newt' })
  expect(asked()).toEqual(['vole'])
})

test('in turn, who goes out before its own turn gives the one who is asked no more time', () => {
  const { at, does, match, asked } = reactionsMatch({ answers: 'in-turn' })
  does('otter', 'wish')
  at(1500)
  match.direct('wishes.out', { seat: 'newt' })
  at(1999)
  expect(asked()).toEqual(['heron vole'])
  at(2000)
  expect(asked()).toEqual(['vole'])
})

test('absent while it is asked: its time runs', () => {
  const { at, does, match, asked } = reactionsMatch({}, ['otter', 'heron'])
  does('otter', 'wish')
  match.direct('roster.absent', { seat: 'heron' })
  at(1999)
  expect(asked()).toEqual(['heron'])
  at(2000)
  expect(asked()).toEqual([])
})

test.each([0, 700])(
  'TU30: the turn clock holds while a window is open, with %i ms more afterwards',
  (grace) => {
    const { at, does, decline, turn, match } = reactionsMatch({ graceAfterWindow: grace }, ['otter', 'heron'])
    match.direct('wishes.breath', { left: 0 })
    at(9999)
    does('otter', 'wish')
    at(11_500)
    expect(turn().seat).toBe('otter')
    match.direct('phases.pause', {})
    match.advanceTo(100_000)
    match.direct('phases.resume', {})
    expect(turn().seat).toBe('otter')
    decline('heron')
    expect(turn().seat).toBe('heron') // its only action was the wish
  },
)

test('at a break it closes as if all had declined, the newest first', () => {
  const { match } = playMatch(inRounds, SEATS)
  match.submit('otter', 'wishes.wish', {})
  match.submit('heron', 'wishes.hush', {})
  match.advanceTo(3000 + 1000)
  expect(match.view('spectator').phases.now.phase).toBe('break')
  expect(match.view('spectator').reactions.windows).toEqual({})
  expect(match.state.wishes.log.lines).toEqual(['heron: nobody', 'otter: nobody'])
  match.advanceTo(match.now + 1000)
  expect(match.submit(match.view('spectator').turns.now.seat ?? '', 'wishes.wish', {})).toEqual({ ok: true })
})
const inRounds = defineRulebook({
  name: 'rounds-of-wishes',
  seats: { min: 2, max: 4 },
  rules: [
    rounds({ length: 1000, count: 2, breakTime: 1000 }),
    scores,
    turns({ steps: [play] }),
    reactions,
    verdict({ when: [mostAtTime.decides('round'), mostRounds] }),
    wishes,
  ],
})

test('at the verdict it is dropped, and nothing that hung on it is done', () => {
  const { does, match, windows, log } = reactionsMatch()
  does('otter', 'wish')
  match.direct('phases.abandon', {})
  expect([windows(), log()]).toEqual([[], []])
  expect(does('heron', 'hush')).toBe('over')
})

test('laws: whatever is done, windows close and turns go on; who could react changes no byte of what anybody gets; replayed and resumed it is the same', () => {
  const act = fc.tuple(
    fc.nat(3),
    fc.constantFrom('wish', 'hush', 'spoil', 'stay', 'decline', 'wait', 'leave', 'come'),
    fc.nat(3000),
  )
  const played = (acts: readonly (readonly [number, string, number])[], answers: string, left: number) => {
    const { match, replay, does, decline, windows } = reactionsMatch({ answers })
    match.direct('wishes.breath', { left })
    const sent: unknown[] = ['spectator', ...SEATS].map((viewer) => match.addViewer(viewer).view)
    for (const [n, what, ms] of acts) {
      const seat = SEATS[n] ?? ''
      if (what === 'decline') sent.push(decline(seat))
      else if (what === 'wait') match.advanceTo(match.now + ms)
      else if (what === 'leave') match.direct('roster.absent', { seat })
      else if (what === 'come') match.direct('roster.join', { seat, name: seat })
      else if (what === 'spoil' || what === 'hush') sent.push(does(seat, what))
      else sent.push(does(seat, what === 'wish' ? 'wish' : 'stay'))
      sent.push(match.flush())
    }
    // Left open or not, it goes on from a snapshot as it would have gone on.
    const resumed = resumeMatch(book, match.snapshot())
    for (const each of [match, resumed]) each.advanceTo(each.now + 2000 * SEATS.length * 8)
    expect(resumed.hash()).toBe(match.hash())
    expect([match.faults, windows()]).toEqual([[], []])
    expect(replay().differs).toBe(undefined)
    return sent
  }
  fc.assert(
    fc.property(
      fc.array(act, { maxLength: 40 }),
      fc.constantFrom('in-turn', 'first-come'),
      (acts, answers) => {
        const quiet = acts.filter(([, what]) => what !== 'hush')
        expect(played(quiet, answers, 0)).toEqual(played(quiet, answers, 99))
        played(acts, answers, 99)
      },
    ),
    { numRuns: 40 },
  )
})
