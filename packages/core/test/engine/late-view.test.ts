import fc from 'fast-check'
import { expect, test } from 'vitest'
import {
  defineRule,
  defineRulebook,
  everyone,
  int,
  owner,
  perSeat,
  resumeMatch,
  seatRef,
  single,
} from 'zinc-referee'
import { applyPatch, LateView } from 'zinc-referee/replica'
import { rounds } from 'zinc-referee/rules'
import { playMatch } from 'zinc-referee/testing'

const bell = defineRule({
  name: 'bell',
  needs: [rounds],
  state: {
    tower: single({ rung: int(0).seenBy(everyone) }),
    ropes: perSeat({ length: int(9).seenBy(owner) }),
  },
  events: { rang: { seat: seatRef().seenBy(everyone) } },
  actions: {
    ring: {
      input: {},
      decide(match, seat) {
        match.own.tower.rung += 1
        match.own.ropes.of(seat).length -= 1
        match.emit('rang', { seat })
      },
    },
  },
})
const book = defineRulebook({ name: 'bell', seats: { min: 2, max: 2 }, rules: [rounds, bell] })
const DELAY = 5000

test('a match that was restored is seen when its time has come, and nothing of it before', () => {
  const { match } = playMatch(book, ['otter', 'heron'])
  match.submit('otter', 'bell.ring', {})
  const restored = resumeMatch(book, match.snapshot())
  const late = new LateView(restored.addViewer('spectator-late'), DELAY)
  expect([late.open(restored.now).view, late.nextDue]).toEqual(['{}', restored.now + DELAY])
  restored.submit('otter', 'bell.ring', {})
  for (const update of restored.flush()) late.receive(update)
  const rungAt = (ms: number) => {
    late.due(ms)
    return JSON.parse(late.open(ms).view).bell?.tower.rung
  }
  expect([rungAt(restored.now + DELAY - 1), rungAt(restored.now + DELAY)]).toEqual([undefined, 2])
})

test('law: whenever it is looked at, it is what a spectator saw so long ago; updates are the same texts', () => {
  const wait = fc.integer({ min: 0, max: 4000 })
  fc.assert(
    fc.property(fc.array(fc.tuple(wait, fc.boolean()), { minLength: 1, maxLength: 30 }), (moves) => {
      const { match } = playMatch(book, [], { start: false })
      const opening = match.addViewer('spectator-late')
      const late = new LateView(opening, DELAY)
      let copy = JSON.parse(opening.view)
      const seen = [{ at: match.now, view: match.view('spectator'), patch: '' }]
      for (const seat of ['otter', 'heron']) match.direct('roster.join', { seat, name: seat })
      for (const seat of ['otter', 'heron']) match.submit(seat, 'roster.ready', {})
      for (const [ms, rings] of moves) {
        match.advanceTo(match.now + ms)
        if (rings) match.submit('otter', 'bell.ring', {})
        for (const update of match.flush()) {
          late.receive(update)
          seen.push({ at: match.now, view: match.view('spectator'), patch: update.patch })
        }
        for (const { patch, at } of late.due(match.now)) {
          expect(at + DELAY).toBeLessThanOrEqual(match.now)
          expect(seen.some((each) => each.patch === patch)).toBe(true)
          copy = applyPatch(copy, JSON.parse(patch))
        }
        const then = seen.findLast(({ at }) => at + DELAY <= match.now) ?? seen[0]
        expect(copy).toEqual(then?.view)
        const { at, view, notices } = late.open(match.now)
        expect([at, JSON.parse(view)]).toEqual([match.now - DELAY, then?.view])
        for (const notice of notices) expect(notice.at).toBeLessThanOrEqual(at)
      }
      for (const { patch } of late.rest()) copy = applyPatch(copy, JSON.parse(patch))
      expect([copy, late.nextDue]).toEqual([match.view('spectator'), undefined])
    }),
  )
})
