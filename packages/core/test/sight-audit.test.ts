import { expect, test } from 'vitest'
import {
  type AnyMatch,
  chanceFrom,
  choice,
  defineRule,
  defineRulebook,
  everyone,
  flag,
  int,
  maybe,
  nobody,
  only,
  perSeat,
  refuse,
  seatRef,
  single,
  table,
} from 'zinc-referee'
import { phases, rounds } from 'zinc-referee/rules'
import { type AuditAsked, auditSight, type Crowd, playMatch, playOut } from 'zinc-referee/testing'

const SEATS = ['otter', 'heron', 'vole']
const face = choice('amber', 'ink')
type Leak =
  | 'forgotten-sight'
  | 'id-tells-order'
  | 'count-tells-face'
  | 'refusal-differs'
  | 'notice-to-all'
  | 'shuffle-keeps-ids'
  | 'options-tell'
  | 'timer'
  | 'gap'
  | 'row-count'
  | 'told-later'
  | 'draw-to-come'
const place = choice('deck', 'hand', 'open')
type Shell = { readonly place: string; readonly holder: string | undefined }
/** Shells are drawn, played and mixed in again; with a leak it tells more of them than it should. */
const stallWith = (leak?: Leak) => {
  const seen = ({ place: at, holder }: Shell) =>
    at === 'open' ? everyone : at === 'hand' ? only(holder) : nobody
  // A name of its own that a shell keeps while it is mixed in: who saw it knows it again.
  const numberSeen = (shell: Shell) => (leak === 'shuffle-keeps-ids' ? seen(shell) : nobody)
  return defineRulebook({
    name: 'shell-stall',
    seats: { min: 2, max: 4 },
    rules: [
      rounds,
      defineRule({
        name: 'stall',
        needs: [phases],
        state: {
          shells: table({ face, place, holder: maybe(seatRef()), at: int(), number: int() })
            .indexedBy('place')
            .seenWhen({ face: seen, place: seen, holder: seen, number: numberSeen }),
          stand: single({
            last: maybe(face).seenBy(everyone),
            tag: int(0).seenBy(everyone),
            told: int(0).seenBy(everyone),
            count: int(0),
            kept: int(0),
          }),
          hands: perSeat({ shells: int(0).seenBy(everyone), ambers: int(0).seenBy(everyone) }),
        },
        events: {
          drew: { seat: seatRef().seenBy(everyone), face: maybe(face).seenBy(everyone) },
          played: { seat: seatRef().seenBy(everyone) },
        },
        timers: { hint: { seenBy: everyone } },
        setUp(match) {
          match
            .chance('shells')
            .shuffle(Array.from({ length: 12 }, (_, n) => n))
            .forEach((at, n) => {
              match.own.shells.add({ face: n % 2 === 0 ? 'amber' : 'ink', place: 'deck', at, number: n })
            })
        },
        actions: {
          draw: {
            input: {},
            decide(match, seat) {
              const [top] = [...match.own.shells.where({ place: 'deck' })].sort((a, b) => b.at - a.at)
              if (top === undefined) return refuse('empty')
              top.place = 'hand'
              top.holder = seat
              match.own.hands.of(seat).shells += 1
              match.own.stand.count += 1
              const { stand } = match.own
              if (leak === 'forgotten-sight') stand.last = top.face
              if (leak === 'id-tells-order') stand.tag = top.number
              stand.kept = top.number
              if (leak === 'count-tells-face' && top.face === 'amber') match.own.hands.of(seat).ambers += 1
              if (leak === 'timer') match.timers.start('hint', { in: top.face === 'amber' ? 60_000 : 70_000 })
              match.emit('drew', { seat, face: leak === 'notice-to-all' ? top.face : undefined })
            },
          },
          play: {
            input: {},
            decide(match, seat) {
              const shell = match.own.shells.where({ place: 'hand' }).find(({ holder }) => holder === seat)
              if (shell === undefined) return refuse('empty-hand')
              shell.place = 'open'
              match.own.hands.of(seat).shells -= 1
              // Numbered from what everyone saw; or from what nobody did.
              if (leak === 'gap') match.own.stand.told = match.own.stand.count
              if (leak === 'told-later') match.own.stand.told = match.own.stand.kept
              match.emit('played', { seat })
            },
          },
          mix: {
            input: {},
            decide(match) {
              for (const shell of match.own.shells.where({ place: 'open' })) {
                const at = match.chance('mix').int(0, 99)
                shell.place = 'deck'
                shell.at = at
              }
            },
          },
          guess: {
            input: {},
            decide(match, seat) {
              const theirs = match.own.shells.where({ place: 'hand' }).filter(({ holder }) => holder !== seat)
              const isWarm = theirs[0]?.face === 'amber'
              return refuse(leak === 'refusal-differs' && isWarm ? 'warm' : 'cold')
            },
          },
          bid: {
            input: { most: int() },
            options(match, seat) {
              const theirs = match.own.shells.where({ place: 'hand' }).filter(({ holder }) => holder !== seat)
              const ambers = theirs.slice(0, 1).filter((shell) => shell.face === 'amber')
              const deck = match.own.shells.where({ place: 'deck' })
              const known = leak === 'options-tell' ? ambers : leak === 'row-count' ? deck : ['one', 'two']
              return known.map((_, most) => ({ most }))
            },
            decide: () => undefined,
          },
          /** Tried out for the options, a call that only chance can allow tells what chance is about to give. */
          call: {
            input: { tails: flag() },
            options: () => [{ tails: true }, { tails: false }],
            decide(match, _, { tails }) {
              const isTails = leak === 'draw-to-come' && match.chance('toss').int(0, 1) === 1
              return isTails && !tails ? refuse('wrong-call') : undefined
            },
          },
        },
      }),
    ],
  })
}

const crowd = (): Crowd => {
  const chance = chanceFrom('fair-1', 'stall')
  return {
    every: 1000,
    beat(match) {
      for (const seat of SEATS)
        match.submit(seat, chance.pick(['stall.draw', 'stall.draw', 'stall.play', 'stall.mix']) ?? '', {})
    },
  }
}
const audit = (leak?: Leak, more: Partial<AuditAsked> = {}) =>
  auditSight(stallWith(leak), {
    seats: SEATS,
    crowd,
    until: 20_000,
    checks: 16,
    also: ['stall.shells.at', 'stall.shells.number', 'stall.stand.count'],
    ...more,
  })

test('a rulebook that keeps its secrets: nothing found, and every secret was varied', () => {
  const { leaks, varied, compared } = audit()
  expect(leaks).toEqual([])
  expect(compared).toBeGreaterThan(100)
  for (const name of ['face', 'at', 'number']) expect(varied[`stall.shells.${name}`]).toBeGreaterThan(0)
})

test.each([
  ['forgotten-sight', { by: 'view', input: 'stall.draw', path: '/stall/stand/last' }],
  ['id-tells-order', { by: 'view', input: 'stall.draw', path: '/stall/stand/tag' }],
  ['count-tells-face', { by: 'view', input: 'stall.draw', path: expect.stringMatching(/hands.*ambers/) }],
  ['refusal-differs', { by: 'ruling', secret: 'stall.shells.face', path: 'stall.guess' }],
  ['notice-to-all', { by: 'notice', input: 'stall.draw', path: 'stall.drew' }],
  ['shuffle-keeps-ids', { by: 'returning-id', path: '/stall/shells/number' }],
  ['options-tell', { by: 'options', secret: 'stall.shells.face', path: 'stall.bid' }],
  ['timer', { by: 'view', input: 'stall.draw', path: expect.stringMatching(/hint/) }],
  [
    'told-later',
    { by: 'mark', secret: 'stall.shells.number', path: '/stall/stand/told', input: 'stall.play' },
  ],
  ['row-count', { by: 'options', secret: 'stall.shells', path: 'stall.bid' }],
  ['draw-to-come', { by: 'options', secret: 'draws', path: 'stall.call' }],
  ['gap', { by: 'view', input: 'stall.play', path: '/stall/stand/told' }],
] as const)('a planted leak is found where it is: %s', (leak, found) => {
  expect(audit(leak).leaks).toContainEqual(expect.objectContaining(found))
})

test('a planted leak is found where it is: a patch that removes what was never shown', () => {
  const hiddenIn = (match: AnyMatch, viewer: string): string => {
    const shown = Object.keys(Object(match.view(viewer)['stall']).shells)
    const { rows = [] } = match.snapshot().parts['stall.shells'] ?? {}
    return rows.map(([, id]) => id).find((id) => !shown.includes(id)) ?? ''
  }
  const { leaks } = audit(undefined, {
    through: (update, match) =>
      update && {
        ...update,
        patch: `[{"op":"remove","path":"/stall/shells/${hiddenIn(match, update.viewer)}"}]`,
      },
  })
  expect(leaks).toContainEqual(expect.objectContaining({ by: 'patch' }))
})

test('a record is looked at as it was played; how many hidden rows there are may be told on purpose', () => {
  const played = (leak?: Leak) => {
    const { match, record } = playMatch(stallWith(leak), SEATS)
    playOut(match, crowd(), 20_000)
    match.close()
    return record()
  }
  const also = ['stall.shells.at', 'stall.stand.count']
  const kept = auditSight(stallWith(), { record: played(), also })
  expect(kept.leaks).toEqual([])
  expect(kept.varied['draws']).toBeGreaterThan(20)
  const { leaks } = auditSight(stallWith('gap'), { record: played('gap'), also })
  expect(leaks).toContainEqual(expect.objectContaining({ by: 'view', input: 'stall.play' }))
  const counted = { record: played('row-count'), discloses: { 'stall.shells': 'all can count the deck' } }
  const { leaks: none, disclosed } = auditSight(stallWith('row-count'), counted)
  expect(none).toEqual([])
  expect(disclosed).toContainEqual(
    expect.objectContaining({ what: 'stall.shells', why: 'all can count the deck' }),
  )
  expect(() => auditSight(stallWith(), { record: 'no record' })).toThrow(/ZR_RECORD_FOREIGN|header/)
})

test('what is told on purpose is listed with its reason, and what stands there before any input is never excused', () => {
  const why = 'the stallholder calls it out'
  const { leaks, disclosed } = audit('notice-to-all', { discloses: { 'stall.draw': why } })
  expect(leaks).toEqual([])
  expect(disclosed.find(({ what }) => what === 'stall.draw')).toMatchObject({ why })
  expect(disclosed.find(({ what }) => what === 'stall.draw')?.times).toBeGreaterThan(0)
  expect(audit('options-tell', { discloses: { 'stall.shells.face': why } }).leaks).not.toEqual([])
})

test('an audit that could find nothing is refused: too few seats, no moment to look at, a cell that is not there', () => {
  expect(() => audit(undefined, { seats: ['otter'] })).toThrow(/did not begin with 1 seats/)
  expect(() => audit(undefined, { checks: 0 })).toThrow(/0 checks/)
  expect(() => audit(undefined, { also: ['stall.shell.at'] })).toThrow(/'stall\.shell\.at'/)
  expect(() => audit(undefined, { discloses: { 'stall.drew': 'why' } })).toThrow(
    /neither a cell nor an input/,
  )
})
