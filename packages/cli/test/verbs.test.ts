import { readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { beforeAll, expect, test } from 'vitest'
import { folder, run } from './run.ts'

const here = (file: string) => join(folder, file)
const RECORD = here('regatta.jsonl')
const text = async (...args: string[]) => (await run(...args)).stdout
const data = async (...args: string[]) => JSON.parse(await text(...args, '--json'))
let shown: Awaited<ReturnType<typeof run>>
beforeAll(async () => {
  shown = await run('demo', '--record', RECORD)
})

test('demo plays a whole regatta and shows timeline, board, sights, verdict, record and what to do next', () => {
  expect(shown.status).toBe(0)
  expect(shown.stdout).toMatch(/Reed Regatta {3}seed fair-1 {3}8 seats {3}10:13/)
  expect(shown.stdout).toMatch(/0:00 +countdown\n +0:03 +go\n/)
  expect(shown.stdout).toMatch(/rank +seat +crew +sunk +lost +assists +score/)
  expect(shown.stdout).toMatch(/otter\.cargo +\d+ +\d+ +hidden +hidden/)
  expect(shown.stdout).toMatch(/otter\.course +\w+ +hidden +hidden +hidden/)
  expect(shown.stdout).toMatch(/verdict +\w+(, \w+){3} win /)
  expect(shown.stdout).toMatch(/replay +\d+ inputs {3}the same rulings and hashes/)
  expect(shown.stdout).toContain(`view ${RECORD} --seat otter`)
  for (const line of shown.stdout.split('\n').filter((each) => !each.includes('npx ')))
    expect(line.length).toBeLessThanOrEqual(80)
})

test('demo --json is data; another seed is another match, the same seed the same', async () => {
  const play = (seed: string) => data('demo', 'hot-kettle', '--seed', seed, '--record', here(seed))
  const [a, b, again] = [await play('fair-1'), await play('fair-2'), await play('fair-1')]
  expect(a).toMatchObject({
    mode: 'hot-kettle',
    over: true,
    replay: 'same',
    faults: [],
    verdict: { kind: 'win' },
  })
  expect(again.feed).toEqual(a.feed)
  expect(b.feed).not.toEqual(a.feed)
})

test('replay finds the same rulings and hashes, and a changed record a difference: exit code 1', async () => {
  const same = await data('replay', RECORD)
  expect(same).toMatchObject({ rulebook: 'reed-regatta', seed: 'fair-1' })
  expect(same.differs).toBeUndefined()
  const record = readFileSync(RECORD, 'utf8')
  writeFileSync(
    here('changed.jsonl'),
    record.replace('"raft.chase","seat":"otter"', '"raft.chase","seat":"heron"'),
  )
  const changed = await run('replay', here('changed.jsonl'))
  expect(changed.status).toBe(1)
  expect(changed.stdout).toMatch(/differs at line \d+/)
})

test('view shows each viewer what they may see, and the server all', async () => {
  const as = (seat: string) => data('view', RECORD, '--seat', seat, '--at', '0:57')
  const { hold } = (await as('otter')).raft
  expect(hold.otter).toHaveProperty('cargo')
  expect(hold).not.toHaveProperty('heron')
  expect((await as('spectator')).raft).toEqual({ hold: {} })
  expect(await as('server')).toHaveProperty(['raft.helm.heron.course'])
  expect(await text('view', RECORD, '--seat', 'heron', '--at', '57s')).toMatch(
    /reed-regatta {3}heron at 0:57/,
  )
})

test.each([
  ['an unknown example', ['demo', 'reed-regata'], "Did you mean 'reed-regatta'?"],
  ['a missing rulebook', ['demo', '--rulebook', 'nothing.ts'], "There is no file 'nothing.ts'"],
  ['a missing record', ['replay', 'nothing.jsonl'], "There is no file 'nothing.jsonl'"],
  ['an unknown seat', ['view', RECORD, '--seat', 'oter', '--at', '0:10'], "Did you mean 'otter'?"],
  ['no time', ['view', RECORD, '--seat', 'otter', '--at', 'noon'], 'Write it as 0:57'],
  [
    'a time beyond the record',
    ['view', RECORD, '--seat', 'otter', '--at', '19:00'],
    'The record ends at 10:13',
  ],
  ['too many seats', ['demo', '--seats', '9'], 'takes 2 to 8 seats'],
  ['a place that cannot be written', ['demo', '--record', '/dev/null/record.jsonl'], 'Name another place'],
  ['a number that is none', ['demo', '--seats', 'many'], 'must be a whole number'],
  ['a missing option', ['view', RECORD], '--seat'],
  ['an unknown option', ['demo', '--fast'], '--help tells how'],
  ['an unknown command', ['fly'], "unknown command 'fly'"],
])('%s: exit code 2 and the fix', async (_what, args, says) => {
  const { status, stderr, stdout } = await run(...args)
  expect(stderr).toContain(says)
  expect([status, stdout]).toEqual([2, ''])
})

test('a broken line is named by its number, and a foreign file as such', async () => {
  const lines = readFileSync(RECORD, 'utf8').split('\n')
  writeFileSync(here('broken.jsonl'), lines.with(9, '{"t":12').join('\n'))
  expect(await run('replay', here('broken.jsonl'))).toMatchObject({
    status: 2,
    stderr: expect.stringContaining('Line 10 of the record'),
  })
  writeFileSync(here('foreign.jsonl'), '{"hello":"world"}\n')
  expect(await run('replay', here('foreign.jsonl'))).toMatchObject({
    status: 2,
    stderr: expect.stringContaining('not a record of a Zinc Referee match'),
  })
})

test.each([[[]], [['demo']], [['replay']], [['view']], [['serve']], [['describe']], [['new']]])(
  '%j has --help',
  async (command) => {
    const { status, stdout } = await run(...command, '--help')
    expect(status).toBe(0)
    expect(stdout).toMatch(/^Usage: zinc-referee/)
  },
)

test('describe prints the plan: rules in order, inputs, who hears and amends, timers, who sees each cell', async () => {
  const stdout = await text('describe')
  expect(stdout).toMatch(/reed-regatta {3}2 to 8 seats {3}12 rules/)
  expect(stdout).toMatch(/actions +chase \{ quarry \} {3}search {3}dock/)
  expect(stdout).toMatch(/down \(handled by credit, respawn, boosts, raft\)/)
  expect(stdout).toMatch(/timers +end \(play, outer\)/)
  expect(stdout).toMatch(/raft\.hold\.cargo +int +its owner +each life/)
  expect(stdout).toMatch(/raft\.helm\.course +choice drift \| raft \| cargo \| dock +nobody/)
  const plan = await data('describe', 'stepping-stones')
  expect(plan.rules.at(-1)).toMatchObject({ name: 'stones', actions: [{ name: 'stones.lay', offers: true }] })
})

test('sights prints who sees what, as text, Markdown and data', async () => {
  expect(await text('sights', 'mussel-dip')).toMatch(/state +dip\.lists\.wishes +its owner\n/)
  expect(await text('sights', 'mussel-dip', '--markdown')).toContain(
    '| options | `dip.peek` | the seat itself |',
  )
  expect(await data('sights', 'mussel-dip')).toContainEqual({
    what: 'notice',
    name: 'dip.peeked.place',
    seenBy: 'everyone',
  })
})

test('a mode is played with its optional rules, by name or all; an unknown one is refused', async () => {
  const header = (file: string) => JSON.parse(readFileSync(here(file), 'utf8').split('\n')[0] ?? '')
  expect(
    await run('demo', 'lantern-market', '--with', 'fog, wind', '--record', here('two.jsonl')),
  ).toMatchObject({
    status: 0,
  })
  expect(header('two.jsonl').with).toEqual(['fog', 'wind'])
  expect(await run('replay', here('two.jsonl'))).toMatchObject({ status: 0 })
  expect(await run('demo', 'lantern-market', '--with', 'all', '--record', here('all.jsonl'))).toMatchObject({
    status: 0,
  })
  expect(header('all.jsonl').with).toHaveLength(6)
  for (const command of ['demo', 'serve']) {
    const wrong = await run(command, 'lantern-market', '--with', 'rain')
    expect([wrong.status, wrong.stderr]).toEqual([
      2,
      expect.stringMatching(/'rain' is not an optional rule.*fog/),
    ])
  }
})
