import { expect, test } from 'vitest'
import { defineRulebook, side } from 'zinc-referee'
import { signalsOf, teams, verdict } from 'zinc-referee/rules'
import { auditSight, playMatch, randomCrowd } from 'zinc-referee/testing'
import { moves } from '../fixtures/moves.ts'

const signals = signalsOf({ hello: {}, help: { seenBy: side } })
const book = defineRulebook({
  name: 'quay',
  seats: { min: 2, max: 4 },
  rules: [teams({ count: 2 }), verdict({ when: [] }), moves, signals({ maxSignals: 2 })],
})
const SEATS = ['otter', 'heron', 'vole', 'newt']

function onQuay() {
  const { match, replay } = playMatch(book, SEATS)
  const teamOf = (seat: string) => match.view('server').teams.side[seat]?.team
  for (const viewer of [...SEATS, 'spectator']) match.addViewer(viewer)
  return {
    match,
    replay,
    send: (seat: string, signal: 'hello' | 'help' = 'hello') =>
      match.submit(seat, 'signals.send', { signal }),
    /** Who is notified of what, since last asked. */
    heard: () =>
      match.flush().flatMap(({ viewer, notices }) => notices.map(({ name }) => `${viewer} ${name}`)),
    crew: (seat: string) => SEATS.filter((each) => teamOf(each) === teamOf(seat)),
  }
}

test('SI1, SI4: to everyone, or to one’s side alone; in a pause, out of play and when it is over, too', () => {
  const { match, send, heard, crew } = onQuay()
  expect([send('otter'), send('otter', 'help')]).toEqual([{ ok: true }, { ok: true }])
  expect(heard().sort()).toEqual(
    [
      ...[...SEATS, 'spectator'].map((viewer) => `${viewer} signals.sent`),
      ...crew('otter').map((viewer) => `${viewer} signals.called`),
    ].sort(),
  )
  match.direct('phases.pause', {})
  expect(send('heron')).toEqual({ ok: true })
  match.direct('phases.resume', {})
  match.report('moves.out', { seat: 'heron' })
  expect(send('heron')).toEqual({ ok: true })
  match.direct('phases.abandon', {})
  expect(send('vole')).toEqual({ ok: true })
})

test('SI2, SI5: so many in a time, and another exactly when the oldest is that long ago; a refused one does not count', () => {
  const { match, send, replay } = onQuay()
  send('otter')
  const first = match.now
  match.advanceTo(first + 4000)
  send('otter')
  match.advanceTo(first + 9999)
  expect(send('otter')).toMatchObject({ code: 'too-many-signals', details: { next: first + 10_000 } })
  match.direct('phases.abandon', {})
  match.advanceTo(first + 10_000)
  expect([send('otter').ok, send('otter').ok]).toEqual([true, false])
  expect(send('heron')).toEqual({ ok: true })
  expect(replay().differs).toBeUndefined()
})

test('SI3, SI6: who is muted sees it, and nobody else; it stays so over leaving', () => {
  const { match, send } = onQuay()
  match.direct('signals.mute', { seat: 'otter' })
  expect(send('otter')).toMatchObject({ code: 'muted' })
  const mutes = (viewer: 'otter' | 'heron') => JSON.stringify(match.view(viewer).signals)
  expect([mutes('otter'), mutes('heron')]).toEqual([
    '{"seats":{"otter":{"muted":true,"sent":[]}}}',
    '{"seats":{"heron":{"muted":false,"sent":[]}}}',
  ])
  match.submit('otter', 'roster.leave', {})
  match.direct('roster.join', { seat: 'otter', name: 'Otter', player: 'otter' })
  expect(send('otter')).toMatchObject({ code: 'muted' })
  match.direct('signals.mute', { seat: 'otter', muted: false })
  expect(send('otter')).toEqual({ ok: true })
})

test('SI7: who comes after a signal was sent does not get it', () => {
  const { match, send } = onQuay()
  match.addViewer('heron')
  match.flush()
  send('otter')
  const sent = match
    .flush()
    .flatMap(({ notices }) => notices.map(({ name, at, until }) => [name, until - at]))
  expect(sent[0]).toEqual(['signals.sent', 4000])
  expect(match.addViewer('heron').notices.map(({ name }) => name)).not.toContain('signals.sent')
})

test('neither who is muted nor how often somebody has sent one shows to anybody else', () => {
  const audit = auditSight(book, { seats: SEATS, crowd: () => randomCrowd('fair-1'), checks: 6 })
  expect(audit.leaks).toEqual([])
  expect(audit.secrets['signals.seats.muted']?.varied).toBeGreaterThan(5)
})
