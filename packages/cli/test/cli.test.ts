import { spawn, spawnSync } from 'node:child_process'
import { mkdtempSync, readFileSync, symlinkSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { beforeAll, expect, test } from 'vitest'

const bin = fileURLToPath(new URL('../bin/zinc-referee.js', import.meta.url))
const folder = mkdtempSync(join(tmpdir(), 'zinc-'))
const run = (...args: string[]) => {
  const { status, stdout, stderr } = spawnSync(process.execPath, [bin, ...args], {
    cwd: folder,
    encoding: 'utf8',
    env: { ...process.env, NO_COLOR: '1' },
  })
  return { status, stdout, stderr }
}
const RECORD = 'records/reed-regatta-fair-1.jsonl'
let shown: ReturnType<typeof run>
beforeAll(() => {
  symlinkSync(fileURLToPath(new URL('../../../node_modules', import.meta.url)), join(folder, 'node_modules'))
  shown = run('demo')
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

test('demo --json is data; another seed is another match, the same seed the same', () => {
  const play = (seed: string) => JSON.parse(run('demo', 'hot-kettle', '--seed', seed, '--json').stdout)
  const [a, b, again] = [play('fair-1'), play('fair-2'), play('fair-1')]
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

test('replay finds the same rulings and hashes, and a changed record a difference: exit code 1', () => {
  const same = JSON.parse(run('replay', RECORD, '--json').stdout)
  expect(same).toMatchObject({ rulebook: 'reed-regatta', seed: 'fair-1' })
  expect(same.differs).toBeUndefined()
  const text = readFileSync(join(folder, RECORD), 'utf8')
  writeFileSync(
    join(folder, 'changed.jsonl'),
    text.replace('"raft.chase","seat":"otter"', '"raft.chase","seat":"heron"'),
  )
  const changed = run('replay', 'changed.jsonl')
  expect(changed.status).toBe(1)
  expect(changed.stdout).toMatch(/differs at line \d+/)
})

test('view shows each viewer what they may see, and the server all', () => {
  const as = (seat: string) =>
    JSON.parse(run('view', RECORD, '--seat', seat, '--at', '0:57', '--json').stdout)
  expect(as('otter').raft.hold.otter).toHaveProperty('cargo')
  expect(as('otter').raft.hold).not.toHaveProperty('heron')
  expect(as('spectator').raft).toEqual({ hold: {} })
  expect(as('server')).toHaveProperty(['raft.helm.heron.course'])
  expect(run('view', RECORD, '--seat', 'heron', '--at', '57s').stdout).toMatch(
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
])('%s: exit code 2 and the fix', (_what, args, says) => {
  const { status, stderr, stdout } = run(...args)
  expect(stderr).toContain(says)
  expect([status, stdout]).toEqual([2, ''])
})

test('a broken line is named by its number, and a foreign file as such', () => {
  const lines = readFileSync(join(folder, RECORD), 'utf8').split('\n')
  writeFileSync(join(folder, 'broken.jsonl'), lines.with(9, '{"t":12').join('\n'))
  expect(run('replay', 'broken.jsonl')).toMatchObject({
    status: 2,
    stderr: expect.stringContaining('Line 10 of the record'),
  })
  writeFileSync(join(folder, 'foreign.jsonl'), '{"hello":"world"}\n')
  expect(run('replay', 'foreign.jsonl')).toMatchObject({
    status: 2,
    stderr: expect.stringContaining('not a record of a Zinc Referee match'),
  })
})

test.each([[[]], [['demo']], [['replay']], [['view']], [['serve']], [['describe']], [['new']]])(
  '%j has --help',
  (command) => {
    const { status, stdout } = run(...command, '--help')
    expect(status).toBe(0)
    expect(stdout).toMatch(/^Usage: zinc-referee/)
  },
)

const MODE = `
import { defineRule, defineRulebook, everyone, int, perSeat } from 'zinc-referee'
import { firstTo, scores, verdict } from 'zinc-referee/rules'
const stall = defineRule({
  name: 'stall', needs: [scores], state: { sold: perSeat({ jars: int(0).seenBy(everyone) }) },
  actions: { sell: { input: { jars: int(1).between(1, 3) }, decide(match, seat, { jars }) {
    match.own.sold.of(seat).jars += jars
    return match.use(scores).give({ seat, amount: jars, reason: 'sold' })
  } } },
})
export default defineRulebook({ name: 'jam-stall', seats: { min: 2, max: 4 }, rules: [scores, verdict({ when: [firstTo(20)] }), stall] })
`
test("a user's own .ts rulebook is played, recorded, replayed and served", async () => {
  writeFileSync(join(folder, 'jam-stall.ts'), MODE)
  const played = run('demo', '--rulebook', 'jam-stall.ts')
  expect(played).toMatchObject({ status: 0, stderr: '' })
  expect(played.stdout).toMatch(/jam-stall {3}seed fair-1 {3}4 seats/)
  expect(played.stdout).toMatch(/verdict +(\w+ wins|.*draw) +goal-reached/)
  expect(run('replay', 'records/jam-stall-fair-1.jsonl').stderr).toContain('--rulebook FILE')
  const replayed = run('replay', 'records/jam-stall-fair-1.jsonl', '--rulebook', 'jam-stall.ts').stdout
  expect(replayed).toContain('the same rulings and hashes')
  // What it says to do next runs as it stands.
  const [, next = ''] = /next +npx zinc-referee (.*)/.exec(replayed) ?? []
  expect(run(...next.split(' ')).status).toBe(0)

  const served = spawn(process.execPath, [bin, 'serve', '--rulebook', 'jam-stall.ts', '--port', '0'], {
    cwd: folder,
    env: { ...process.env, NO_COLOR: '1' },
  })
  let said = ''
  served.stdout.on('data', (data) => {
    said += String(data)
  })
  await expect.poll(() => said, { timeout: 120_000 }).toMatch(/page +http/)
  const url = /http:\S+/.exec(said)?.[0] ?? ''
  expect(await (await fetch(`${url}matches`)).json()).toEqual([{ id: 'jam-stall', rulebook: 'jam-stall' }])
  expect(await (await fetch(url)).text()).toContain('Fenwick Fair')
  const ended = new Promise((resolve) => served.on('exit', resolve))
  served.kill('SIGTERM')
  expect(await ended).toBe(0)
  expect(said).toContain('its record is whole')
})

test('a mode whose code throws ends demo and sightcheck with 1, and says where', () => {
  const options = "options: () => { throw new Error('no jars left') },"
  const offered = MODE.replace('sell: { ', `sell: { offered: true, ${options}\n `)
  writeFileSync(join(folder, 'bad-stall.ts'), offered.replace('jam-stall', 'bad-stall'))
  for (const command of [['demo'], ['sightcheck', '--checks', '2', '--steps', '2']]) {
    const ran = run(...command, '--rulebook', 'bad-stall.ts')
    expect([command, ran.status, ran.stderr]).toEqual([command, 1, ''])
    expect(ran.stdout).toMatch(/stall options sell +\d+ .*options +Error: no jars left +bad-stall\.ts:6:\d+/)
  }
})

test('new writes a mode and its test that run at once, and overwrites nothing', () => {
  expect(run('new', 'lamp-race')).toMatchObject({ status: 0, stderr: '' })
  const played = JSON.parse(run('demo', '--rulebook', 'lamp-race/lamp-race.ts', '--json').stdout)
  expect(played).toMatchObject({ mode: 'lamp-race', over: true, replay: 'same', faults: [] })
  const vitest = fileURLToPath(new URL('../../../node_modules/vitest/vitest.mjs', import.meta.url))
  const tested = spawnSync(process.execPath, [vitest, 'run', '--root', folder, 'lamp-race'], {
    cwd: folder,
    encoding: 'utf8',
  })
  expect([tested.status, tested.stdout]).toEqual([0, expect.stringContaining('1 passed')])
  expect(run('new', 'lamp-race')).toMatchObject({
    status: 2,
    stderr: expect.stringContaining('here already'),
  })
  expect(run('new', 'Lamp Race')).toMatchObject({
    status: 2,
    stderr: expect.stringContaining('cannot name a mode'),
  })
})

test('describe prints the plan: rules in order, inputs, who hears and amends, timers, who sees each cell', () => {
  const { stdout } = run('describe')
  expect(stdout).toMatch(/reed-regatta {3}2 to 8 seats {3}12 rules/)
  expect(stdout).toMatch(/actions +chase \{ quarry \} {3}search {3}dock/)
  expect(stdout).toMatch(/down \(heard by credit, respawn, boosts, raft\)/)
  expect(stdout).toMatch(/timers +end \(play, outer\)/)
  expect(stdout).toMatch(/raft\.hold\.cargo +int +its owner +each life/)
  expect(stdout).toMatch(/raft\.helm\.course +choice drift \| raft \| cargo \| dock +nobody/)
  const plan = JSON.parse(run('describe', 'stepping-stones', '--json').stdout)
  expect(plan.rules.at(-1)).toMatchObject({ name: 'stones', actions: [{ name: 'stones.lay', offers: true }] })
})

test('the mode in the README plays as the README shows', () => {
  const readme = readFileSync(fileURLToPath(new URL('../../../README.md', import.meta.url)), 'utf8')
  const block = (fence: string): string =>
    new RegExp(`\`\`\`${fence}([\\s\\S]*?)\`\`\``).exec(readme)?.[1] ?? ''
  writeFileSync(join(folder, 'duck-pond.ts'), block('ts\\n// duck-pond.ts\\n'))
  const { status, stdout } = run('demo', '--rulebook', 'duck-pond.ts')
  expect(status).toBe(0)
  expect(stdout).toContain(block('text\\nrank').trim())
})

test('a rulebook that throws says where it is wrong', () => {
  writeFileSync(
    join(folder, 'wrong.ts'),
    MODE.replace('[scores, verdict', '[verdict').replace('needs: [scores]', 'needs: [scores] as any'),
  )
  expect(run('demo', '--rulebook', 'wrong.ts')).toMatchObject({
    status: 2,
    stderr: expect.stringContaining('ZR_RULEBOOK_MISSING_NEED'),
  })
  writeFileSync(join(folder, 'none.ts'), 'export const nothing = 1')
  expect(run('demo', '--rulebook', 'none.ts')).toMatchObject({
    status: 2,
    stderr: expect.stringContaining('exports no rulebook'),
  })
})

test('sights prints who sees what, as text, Markdown and data', () => {
  expect(run('sights', 'mussel-dip').stdout).toMatch(/state +dip\.lists\.wishes +its owner\n/)
  expect(run('sights', 'mussel-dip', '--markdown').stdout).toContain(
    '| options | `dip.peek` | the seat itself |',
  )
  expect(JSON.parse(run('sights', 'mussel-dip', '--json').stdout)).toContainEqual({
    what: 'notice',
    name: 'dip.peeked.place',
    seenBy: 'everyone',
  })
})

test('a mode is played with its optional rules, by name or all; an unknown one is refused', () => {
  const header = (file: string) => JSON.parse(readFileSync(join(folder, file), 'utf8').split('\n')[0] ?? '')
  expect(run('demo', 'lantern-market', '--with', 'fog, wind', '--record', 'two.jsonl').status).toBe(0)
  expect(header('two.jsonl').with).toEqual(['fog', 'wind'])
  expect(run('replay', 'two.jsonl').status).toBe(0)
  expect(run('demo', 'lantern-market', '--with', 'all', '--record', 'all.jsonl').status).toBe(0)
  expect(header('all.jsonl').with).toHaveLength(6)
  for (const command of ['demo', 'serve']) {
    const wrong = run(command, 'lantern-market', '--with', 'rain')
    expect([wrong.status, wrong.stderr]).toEqual([
      2,
      expect.stringMatching(/'rain' is no optional rule.*fog/),
    ])
  }
})

test('sightcheck finds nothing in a mode that keeps its secrets, and says where another tells them, with exit code 1', () => {
  const kept = run('sightcheck', 'mussel-dip', '--checks', '3')
  expect(kept.status).toBe(0)
  expect(kept.stdout).toMatch(/dip\.mussels\.kind +\d+ +\d+ +\d+\n/)
  expect(kept.stdout).toMatch(/leaks +none/)
  writeFileSync(
    join(folder, 'leaky.ts'),
    `import { defineRule, defineRulebook, everyone, int, owner, perSeat } from 'zinc-referee'
import { rounds } from 'zinc-referee/rules'
const purse = defineRule({
  name: 'purse',
  needs: [rounds],
  state: { purses: perSeat({ coins: int(5).seenBy(owner), shown: int(0).seenBy(everyone) }) },
  actions: { brag: { input: {}, decide(match, seat) { match.own.purses.of(seat).shown = match.own.purses.of(seat).coins } } },
})
export const rulebook = defineRulebook({ name: 'leaky', seats: { min: 2, max: 2 }, rules: [rounds({ length: 30_000 }), purse] })
`,
  )
  const told = run('sightcheck', '--rulebook', 'leaky.ts')
  expect(told.status).toBe(1)
  expect(told.stdout).toMatch(
    /view +purse\.purses\.coins +\w+ +\d:\d+ +\/purse\/purses\/\w+\/shown +.*purse\.brag/,
  )
  run('demo', '--rulebook', 'leaky.ts', '--record', 'leaky.jsonl')
  const again = run('sightcheck', 'leaky.jsonl', '--rulebook', 'leaky.ts')
  expect([again.status, again.stdout]).toEqual([1, expect.stringContaining('/shown')])
  const wrong = run('sightcheck', 'leaky.jsonl', '--rulebook', 'leaky.ts', '--seats', '2')
  expect([wrong.status, wrong.stderr]).toEqual([2, expect.stringContaining('Leave --seed and --seats out')])
})
