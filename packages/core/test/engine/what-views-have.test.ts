import { expect, test } from 'vitest'
import {
  type AnyMatch,
  defineRule,
  defineRulebook,
  everyone,
  minutes,
  seatRef,
  seconds,
  time,
} from 'zinc-referee'
import { Replica } from 'zinc-referee/replica'
import { mostAtTime, rounds, scores, turnStep, turns, verdict } from 'zinc-referee/rules'
import { playMatch } from 'zinc-referee/testing'

const lay = turnStep('lay')
const bell = defineRule({
  name: 'bell',
  events: {
    rung: { seat: seatRef().seenBy(everyone) },
    called: { seat: seatRef().seenBy(everyone) },
    tolled: { seat: seatRef().seenBy(everyone) },
  },
  notices: { rung: { lasts: seconds(2) }, called: { lasts: seconds(9), later: false } },
  actions: { lay: { when: lay, input: {}, decide() {} } },
  facts: {
    ring: {
      input: { seat: seatRef() },
      handle(match, { seat }) {
        for (const event of ['rung', 'called', 'tolled'] as const) match.emit(event, { seat })
      },
    },
  },
})
const rules = [
  rounds({ length: minutes(5) }),
  turns({ steps: [lay] }),
  scores,
  verdict({ when: [mostAtTime] }),
  bell,
] as const
const seats = { min: 1, max: 3 }
const book = defineRulebook({
  name: 'bell',
  seats,
  rules,
  offers: ['turns.pass', 'roster.leave'],
  shows: ['rounds.length', 'turns.addPerTurn'],
})

const begun = (match: AnyMatch) => {
  const { at, view, notices } = match.addViewer('spectator')
  return { at, view: JSON.parse(view), notices }
}

test('a rulebook offers actions of any rule: a seat has them in its view while they would be accepted', () => {
  const { match } = playMatch(book, ['otter', 'heron'])
  match.addViewer('otter')
  const { seat } = match.view('spectator').turns.now
  const passes = (viewer: string) => match.view(viewer).turns.options?.pass
  expect(['otter', 'heron'].map((each) => passes(each)?.length)).toEqual(
    ['otter', 'heron'].map((each) => (each === seat ? 1 : 0)),
  )
  expect(match.view('otter').roster.options?.leave).toEqual([{}])
  expect(match.view('spectator').turns.options).toBeUndefined()
})

test('a rulebook shows settings to everyone, and a change of one is sent', () => {
  const { match } = playMatch(book, ['otter', 'heron'])
  const replica = new Replica(begun(match), 0)
  const view = () => replica.view as unknown as ReturnType<typeof match.view>
  expect(view().rounds.settings).toEqual({ length: minutes(5) })
  match.direct('match.set', { rule: 'rounds', settings: { length: minutes(4), bestOf: true } })
  for (const { at, patch } of match.flush()) replica.update({ at, patch: JSON.parse(patch) }, 0)
  expect(view()).toEqual(match.view('spectator'))
  expect(view().rounds.settings).toEqual({ length: minutes(4) })
})

test.each([
  ['offers', 'turns.passs', /'offers' of rulebook 'bell' names 'turns.passs'.*Did you mean 'turns.pass'/],
  [
    'shows',
    'rounds.lenght',
    /'shows' of rulebook 'bell' names 'rounds.lenght'.*Did you mean 'rounds.length'/,
  ],
])('%s with the unknown name %s is refused', (option, name, message) => {
  expect(() => defineRulebook({ name: 'bell', seats, rules, [option]: [name] } as never)).toThrow(message)
})

test('a notice lasts as its rule says, and those who come later get it or not', () => {
  const { match } = playMatch(book, ['otter', 'heron'])
  match.report('bell.ring', { seat: 'otter' })
  match.flush()
  const standing = () => match.addViewer('spectator').notices.map(({ name, until, at }) => [name, until - at])
  expect(standing()).toEqual(
    expect.arrayContaining([
      ['bell.rung', 2000],
      ['bell.tolled', 6000],
    ]),
  )
  expect(standing().map(([name]) => name)).not.toContain('bell.called')
  match.advanceTo(match.now + 2000)
  match.flush()
  expect(standing().map(([name]) => name)).toContain('bell.tolled')
  expect(standing().map(([name]) => name)).not.toContain('bell.rung')
  const wrong = { events: { rung: {} }, notices: { rung: { lasts: -1 } } }
  const badBook = () => defineRulebook({ name: 'bad', seats, rules: [defineRule({ name: 'bad', ...wrong })] })
  expect(badBook).toThrow(/Notices of 'bad.rung' last -1 ms/)
})

test('a replica gives each notice an id, the same after a reconnect, and no two have the same', () => {
  const { match } = playMatch(book, ['otter', 'heron'])
  const replica = new Replica(begun(match), 0)
  for (let n = 0; n < 3; n++) match.report('bell.ring', { seat: 'otter' })
  for (const { at, notices } of match.flush()) replica.update({ at, notices }, 0)
  const ids = replica.standing(0).map(({ id }) => id)
  expect(new Set(ids).size).toBe(ids.length)
  const again = new Replica(begun(match), 0).standing(0)
  expect(ids).toEqual(expect.arrayContaining(again.map(({ id }) => id)))
  expect(again.filter(({ name }) => name === 'bell.tolled')).toHaveLength(3)
})

test('a moment says on which clock it is, in types and in the description', () => {
  const { match } = playMatch(book, ['otter', 'heron'])
  const { ends } = match.view('otter').rounds.now
  const clock: 'play' | undefined = ends?.clock
  expect(clock).toBeUndefined() // known to types only
  const cells = match
    .describe()
    .rules.flatMap(({ name, state }) =>
      Object.values(state).flatMap((part) =>
        Object.entries(part.cells).flatMap(([cell, how]) =>
          how.kind === 'time' ? `${name}.${cell} ${how.clock}` : [],
        ),
      ),
    )
  expect(cells).toEqual(
    expect.arrayContaining(['rounds.ends play', 'phases.until phase', 'phases.pausedUntil match']),
  )
  expect(() => time('noon' as 'play')).toThrow(/time\(\) was given the clock 'noon'/)
})
