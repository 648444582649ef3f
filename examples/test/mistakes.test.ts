// The mistakes that mode programmers make, each in a copy of an example, and what says so.
import { cpSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import { pikePond } from '@zinc-referee/examples'
import { afterAll, beforeAll, expect, test } from 'vitest'
import {
  type AnyMatch,
  type AnyRulebook,
  beginAnyMatch,
  defineRule,
  defineRulebook,
  formatRemaining,
  int,
  seconds,
  table,
} from 'zinc-referee'
import { checkRulebook, explain, playMatch, shortCauses } from 'zinc-referee/testing'

const at = (path: string): string => fileURLToPath(new URL(path, import.meta.url))
const folder = at('../.mistakes/')
let copies = 0
beforeAll(() => rmSync(folder, { recursive: true, force: true }))
afterAll(() => rmSync(folder, { recursive: true, force: true }))

/** A mode of a copy of the examples in which a file says something else. */
async function planted(file: string, changes: { readonly [from: string]: string }, mode = file) {
  const copy = `${folder}${++copies}/`
  cpSync(at('../src'), copy, { recursive: true })
  let text = readFileSync(copy + file, 'utf8')
  for (const [from, to] of Object.entries(changes)) {
    expect(text.split(from)).toHaveLength(2)
    text = text.replace(from, to)
  }
  writeFileSync(copy + file, text)
  const exported = Object.values<object>(await import(/* @vite-ignore */ copy + mode))
  return exported.find((each): each is AnyRulebook => 'planWith' in Object(each))!
}
const pond = (from: string, to: string) => planted('pond/rulebook.ts', { [from]: to })

/** Plays a little of a mode, and returns who answers questions about it. All players have one name. */
function evening(book: AnyRulebook, play: (match: AnyMatch) => void = () => {}, given: object = {}) {
  const lines: string[] = []
  const match = beginAnyMatch(book, { seed: 'fair-1', record: (line) => lines.push(line), ...given })
  const seats = ['otter', 'heron', 'vole', 'newt'].slice(0, book.plan.seatLimits.max)
  for (const seat of seats) match.direct('roster.join', { seat, name: 'Otter' })
  for (const seat of seats) match.submit(seat, 'roster.ready', {})
  while (match.state.phases.now.phase !== 'live') match.advanceTo(match.nextDue ?? 0)
  play(match)
  match.close()
  const asked = (question: string) => explain(book, lines.join('\n'), question)
  const why = (question: string) => [
    asked(question).answer,
    ...shortCauses(asked(question)).map(({ says }) => says),
  ]
  return Object.assign(why, { deep: (question: string) => asked(question).causes.map(({ says }) => says) })
}
/** The second seat is a pike: it bites the first one. */
function bite(match: AnyMatch) {
  match.report('areas.at', { seat: 'otter', x: 500, y: 300 })
  match.report('areas.at', { seat: 'heron', x: 510, y: 300 })
  match.report('pond.bit', { by: 'heron', target: 'otter' })
}

test('a time that is compared the wrong way round: the refusal says what it has read', async () => {
  const why = evening(
    await pond('match.time.play < match.own.fish.of(by)', 'match.time.play > match.own.fish.of(by)'),
    (match) => {
      match.advanceTo(match.now + 1000)
      bite(match)
    },
  )
  expect(why('line 12')).toEqual([
    expect.stringMatching(/^pond\.bit .* was refused with out-of-breath\. /),
    'pond fact bit refuses it with out-of-breath',
    expect.stringContaining('pond.fish.heron.bites = 0'),
  ])
})

test('a loop that returns after the first: the others were never written', async () => {
  const why = evening(await pond('inPlay()) enter(match, seat)', 'inPlay()) return enter(match, seat)'))
  expect(why('areas.spots.otter.placed')[0]).toBe('areas.spots.otter.placed is true since 0:03.')
  expect(why('areas.spots.heron.placed')[0]).toBe(
    'areas.spots.heron.placed is false since 0:00, when it was made: nothing has written it.',
  )
})

test('what is removed while it is walked through: all of it goes', () => {
  const shed = defineRule({
    name: 'shed',
    state: { crates: table({ n: int() }) },
    facts: {
      filled: {
        input: {},
        handle(match) {
          for (const n of [1, 2, 3, 4]) match.own.crates.add({ n })
        },
      },
      cleared: {
        input: {},
        handle(match) {
          for (const { id } of match.own.crates.all()) match.own.crates.remove(id)
        },
      },
    },
  })
  const { match } = playMatch(defineRulebook({ name: 'shed', seats: { min: 1, max: 1 }, rules: [shed] }), [
    'otter',
  ])
  for (const fact of ['shed.filled', 'shed.cleared'] as const) match.report(fact, {})
  expect(match.state.shed.crates.all()).toEqual([])
})

test('a player nobody registered, a start that comes twice, a clock of the sender: each is refused, or cannot be said', async () => {
  const why = evening(pikePond, (match) => {
    match.report('pond.bit', { by: 'nobody', target: 'otter' })
    match.direct('phases.start', {})
    // @ts-expect-error: an action has no time but that of the server
    match.submit('otter', 'pond.swim', { x: 1, y: 1 }, { at: 0 })
  })
  expect(why('line 10')[0]).toMatch(/"by":"nobody".* was refused with no-such-target/)
  expect(why('line 11').slice(0, 2)).toEqual([
    'phases.start {} was refused with already-started. The bout has begun. Wait for its verdict.',
    'phases.start apply refuses it with already-started',
  ])
  expect(why('pond.heading.otter.x at line 12')[0]).toBe('pond.heading.otter.x is 1 since 0:03.')
})

test('health that is not reset: the cell is older than the life', async () => {
  const why = evening(await pond("y: maybe(int()) }).each('life')", 'y: maybe(int()) })'), (match) => {
    match.submit('otter', 'pond.swim', { x: 30, y: 40 })
    match.advanceTo(match.now + 1000)
    bite(match)
    match.advanceTo(match.now + 10_000)
  })
  expect(why('vitals.lives.otter.life')[0]).toBe('vitals.lives.otter.life is 2 since 0:07.')
  expect(why('pond.heading.otter.x')[0]).toBe('pond.heading.otter.x is 30 since 0:03.')
})

test('a timer that ticks once differs from one that repeats; one that repeats does not drift, and none shows 4:5', async () => {
  const wait = (match: AnyMatch) => match.advanceTo(match.now + 5500)
  const once = evening(
    await pond("start('hatch', { every: seconds(1) })", "start('hatch', { in: seconds(1) })"),
    wait,
  )
  expect(once('timer pond.hatch')[0]).toBe('pond.hatch happened at 0:04, and does not run any more.')
  expect(evening(pikePond, wait)('timer pond.hatch')[0]).toBe(
    'pond.hatch has not happened: pond.hatch is due in 0.5 s on the play clock.',
  )
  expect([245_000, 0, -1].map((ms) => formatRemaining(ms))).toEqual(['4:05', '0:00', '0:00'])
})

test('a check at every tick where an event would do: the check says how seldom it does anything', async () => {
  const book = await pond("start('gather', { every: 500 })", "start('gather', { every: 50 })")
  const found = checkRulebook(book, {
    seats: ['otter', 'heron', 'vole', 'newt'],
    matches: 1,
    until: seconds(30),
  })
  expect(found.find(({ name }) => name === 'pond.gather')).toMatchObject({
    kind: 'idle-timer',
    says: expect.stringMatching(/^It fired \d{3} times in 1 match, and something came of it \d times?\.$/),
  })
})

test('score that one client alone sees, and a hidden board that all are sent: the declaration is named', async () => {
  const cups = 'letGo: int(-1), cups: int(0).seenBy(owner)'
  const own = evening(await planted('kettle/rulebook.ts', { 'letGo: int(-1)': cups }))
  expect(own('heron sees otter.cups')).toEqual([
    'At 0:03, heron does not see kettle.paws.otter.cups.',
    'kettle.paws.otter.cups is declared as seen by its owner',
  ])
  const open = await planted('mussels/rulebook.ts', { '(open ? everyone : only(peeker))': 'everyone' })
  let id = ''
  const shown = evening(open, (match) => {
    id = Object(match.state)['dip'].mussels.all()[0].id
  })
  expect(shown(`heron sees dip.mussels.${id}.kind`).slice(0, 3)).toEqual([
    `At 0:03, heron sees dip.mussels.${id}.kind.`,
    `dip.mussels.${id}.kind is declared as seen by whoever its seenWhen names`,
    'now that is everyone',
  ])
})

test('a move that a client enables and the server refuses: it is no option, and says by what', async () => {
  const all = 'reached(match, seat).map((to) => ({ to }))'
  const book = await planted('kettle/rulebook.ts', {
    [`options: (match, seat) => ${all}`]: 'options: (match) => match.seats.map((to) => ({ to }))',
  })
  let holder = ''
  const why = evening(book, (match) => {
    ;[holder] = Object(match.state)['holds'].now.holder.values()
    match.advanceTo(match.now + 2500)
    expect(match.options(holder, 'kettle.hand')).not.toContainEqual({ to: holder })
  })
  expect(why(`option kettle.hand {"to":"${holder}"} of ${holder}`).slice(0, 2)).toEqual([
    `At 0:05, kettle.hand {"to":"${holder}"} is no option of ${holder}: it would be refused with too-far.`,
    'kettle action hand refuses it with too-far',
  ])
})

test('a tie nobody thought of: such a rulebook cannot be defined', async () => {
  await expect(pond('verdict({ when: [mostPerHead] })', 'verdict({ when: [] })')).rejects.toThrow(
    "has a timed round, but no condition of its verdict can claim when time is up. Add 'mostAtTime'",
  )
})

test('a name that several share is no id: each has a seat of its own', () => {
  const why = evening(pikePond, (match) => {
    const { seats } = match.view('otter').roster
    expect(Object.values(seats).map(({ name }) => name)).toEqual(match.seats.map(() => 'Otter'))
  })
  expect(why('roster.seats.heron.name')[0]).toBe('roster.seats.heron.name is "Otter" since 0:00.')
  expect(() => why('roster name')).toThrow(
    /more than one cell.*roster\.seats\.otter\.name, roster\.seats\.heron\.name/,
  )
})

test('a turn that ends too early because two expansions met: each that took something is named', async () => {
  const budget = (add: number) =>
    `match.use({ name: 'turns' }).budget({ seat: match.use({ name: 'turns' }).current(), add: ${add}, why: 'more' })`
  const onDip = `'market.dipped': (match) => ${budget(-1)}`
  const book = await planted(
    'lantern/expansions.ts',
    {
      // A seat has three actions, and a dip takes two of them: with each of the two, not with both, it may go on.
      "  name: 'moths',\n": `  name: 'moths',\n  on: { 'turns.began': (match) => ${budget(2)}, ${onDip} },\n`,
      "'turns.step-began'(match, { step }) {": `${onDip},\n    'turns.step-began'(match, { step }) {`,
    },
    'lantern/rulebook.ts',
  )
  const why = evening(
    book,
    (match) => {
      const { seat = '' } = Object(match.state)['turns'].now
      match.submit(seat, 'market.dip', match.options(seat, 'market.dip')[0] ?? {})
    },
    { with: ['moths', 'night-boats'] },
  )
  const says = why('turns.seats.otter.budget')
  expect(says[0]).toBe('turns.seats.otter.budget is 0 since 0:03.')
  expect(says).toContain(
    'night-boats on market.dipped resolves turns.budget {"seat":"otter","add":-1,"why":"more"}',
  )
  const all = why
    .deep('turns.seats.otter.budget')
    .filter((each) => each.includes('writes turns.seats.otter.budget'))
  expect(all.map((each) => each.replace(/^.*: /, ''))).toEqual(['0 → 1', '1 → 3', '3 → 2', '2 → 1', '1 → 0'])
  expect(why.deep('turns.seats.otter.budget').join()).toContain(
    'moths on market.dipped resolves turns.budget',
  )
})
