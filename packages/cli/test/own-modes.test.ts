import { spawn, spawnSync } from 'node:child_process'
import { readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { expect, test } from 'vitest'
import { badInput, bin, folder, runProcess } from './run.ts'

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
  const played = runProcess('demo', '--rulebook', 'jam-stall.ts')
  expect(played).toMatchObject({ status: 0, stderr: '' })
  expect(played.stdout).toMatch(/jam-stall {3}seed fair-1 {3}4 seats/)
  expect(played.stdout).toMatch(/verdict +(\w+ wins|.*draw)\n +goal-reached/)
  expect(runProcess('replay', 'records/jam-stall-fair-1.jsonl').stderr).toContain('--rulebook FILE')
  const replayed = runProcess('replay', 'records/jam-stall-fair-1.jsonl', '--rulebook', 'jam-stall.ts').stdout
  expect(replayed).toContain('the same rulings and hashes')
  // What it says to do next runs as it stands.
  const [, next = ''] = /next +npx zinc-referee (.*)/.exec(replayed) ?? []
  expect(runProcess(...next.split(' ')).status).toBe(0)

  // Two versions of it, side by side.
  writeFileSync(join(folder, 'dear-stall.ts'), MODE.replace('amount: jars', 'amount: 2 * jars'))
  const diff = (rulebook: string) =>
    runProcess('diff', 'records/jam-stall-fair-1.jsonl', '--before', 'jam-stall.ts', '--rulebook', rulebook)
  expect(diff('jam-stall.ts')).toMatchObject({
    status: 0,
    stdout: expect.stringContaining('the same: states'),
  })
  const apart = diff('dear-stall.ts')
  expect(apart.status).toBe(1)
  expect(apart.stdout).toMatch(/first +line \d+ +0:\d\d.* +after \w+'s stall.sell \{"jars":(\d)\}/)
  expect(apart.stdout).toMatch(/scores\.sums\.\w+\.score +\d+ +\d+/)
  expect(apart.stdout).toMatch(/\d+ +0:\d\d.* accepted +over/)
  expect(apart.stdout).toMatch(/now +(win|none when)/)
  expect(runProcess('diff', 'records/jam-stall-fair-1.jsonl', '--rulebook', 'dear-stall.ts')).toMatchObject(
    badInput('--before FILE'),
  )

  // Ended by SIGTERM, it is suspended and goes on; by SIGINT, its match is over.
  for (const [signal, more, before, after] of [
    ['SIGTERM', [], '', 'Serve again with the same records'],
    ['SIGINT', [], 'goes on', 'closed, with whole records'],
    ['SIGINT', ['--workers', '2'], 'workers', 'closed, with whole records'],
  ] as const) {
    const served = spawn(
      process.execPath,
      [bin, 'serve', '--rulebook', 'jam-stall.ts', '--port', '0', ...more],
      {
        cwd: folder,
        env: { ...process.env, NO_COLOR: '1' },
      },
    )
    let said = ''
    served.stdout.on('data', (data) => {
      said += String(data)
    })
    await expect.poll(() => said, { timeout: 120_000 }).toMatch(/next +open/)
    expect(said).toContain(before)
    const url = /http:\S+/.exec(said)?.[0] ?? ''
    expect(await (await fetch(`${url}matches`)).json()).toMatchObject([
      { id: 'jam-stall', mode: 'jam-stall' },
    ])
    expect(await (await fetch(url)).text()).toContain('Fenwick Fair')
    const ended = new Promise((resolve) => served.on('exit', resolve))
    served.kill(signal)
    expect(await ended).toBe(0)
    expect(said).toContain(after)
  }
})

test('check rehearses a mode, and says where what never happens is, and what went wrong', () => {
  const odd = MODE.replace(
    "name: 'stall',",
    `name: 'stall', events: { shut: {} }, timers: { rot() {}, look(match) { match.timers.start('look', { in: 50 }) } },
  on: { 'phases.live-began': (match) => { match.timers.start('look', { in: 50 }); match.own.sold.of('otter').dust = 1 } },
  amend: { 'scores.give'(_match, draft) { if (draft.reason === 'luck') draft.amount.times(2) } },`,
  )
    .replace('jars: int(0)', 'dust: int(0), jars: int(0)')
    .replace('{ jars }) {', '{ jars }) { Math.random(); new Date(); setTimeout(() => {}, 0);')
    .replace('actions: {', 'actions: {\n  wait: { input: {}, decide: () => ({ ok: false, code: "never" }) },')
  writeFileSync(join(folder, 'odd-stall.ts'), odd)
  // The same with something to do for each: an amendment that counts, a timer that does something.
  const calm = MODE.replace(
    "name: 'stall',",
    `name: 'stall', timers: { rot(match) { for (const seat of match.seats) match.own.sold.of(seat).jars -= 1 } },
  on: { 'phases.live-began': (match) => match.timers.start('rot', { every: 2000 }) },
  amend: { 'scores.give'(_match, draft) { if (draft.seat === 'otter') draft.amount.times(2) } },`,
  )
  writeFileSync(join(folder, 'calm-stall.ts'), calm)
  const asked = '--rulebook odd-stall.ts --matches 4 --sarif odd.sarif --json'
  const found = runProcess('check', ...asked.split(' '))
  expect(found.status).toBe(1)
  const { findings } = JSON.parse(found.stdout)
  expect(findings.map(({ kind, name, place }: any) => [kind, name, place?.line])).toEqual([
    ['own-clock', 'Math.random', 9],
    ['own-clock', 'new Date()', 9],
    ['own-clock', 'setTimeout', 9],
    ['never-accepted', 'stall.wait', 9],
    ['never-raised', 'stall.shut', 5],
    ['never-started', 'stall.rot', 5],
    ['unused', 'stall.shut', 5],
    ['never-read', 'stall.sold.dust', 7],
    ['never-amends', 'stall.scores.give', 7],
    ['idle-timer', 'stall.look', 5],
  ])
  const says = (name: string) => findings.find((finding: any) => finding.name === name).says
  expect(says('stall.scores.give')).toMatch(/^It ran \d+ times in 4 matches, and changed nothing\.$/)
  expect(says('stall.look')).toMatch(/^It fired \d+ times in 4 matches, and something came of it 0 times\.$/)
  const sarif = JSON.parse(readFileSync(join(folder, 'odd.sarif'), 'utf8'))
  expect(sarif.runs[0].results[3]).toMatchObject({
    ruleId: 'never-accepted',
    locations: [
      { physicalLocation: { artifactLocation: { uri: 'odd-stall.ts' }, region: { startLine: 9 } } },
    ],
  })
  expect(runProcess('check', '--rulebook', 'calm-stall.ts', '--matches', '4')).toMatchObject({
    status: 0,
    stdout: expect.stringContaining('nothing found'),
  })
  expect(runProcess('check', '--rulebook', 'calm-stall.ts', '--seats', '9')).toMatchObject(
    badInput('takes 2 to 4 seats'),
  )
})

test('rehearse says how matches go, the same each time, and refuses settings that are none', () => {
  const rehearse = (...more: readonly string[]) =>
    runProcess('rehearse', '--rulebook', 'jam-stall.ts', '--seats', '2', '--matches', '9', ...more)
  const went = rehearse('--json')
  expect(went.status).toBe(0)
  for (const workers of ['1', '2', '3'])
    expect(rehearse('--json', '--workers', workers).stdout).toBe(went.stdout)
  expect(JSON.parse(rehearse('--json', '--seconds', '0', '--workers', '2').stdout).matches).toBe(2)
  expect(rehearse('--workers', '0')).toMatchObject(badInput('at least one worker'))
  const { over, endings, seats, sides, actions } = JSON.parse(went.stdout)
  expect([over, endings, sides]).toEqual([9, [{ name: 'win: goal-reached', times: 9 }], []])
  expect(seats.map(({ name, of }: any) => [name, of])).toEqual([
    ['otter', 9],
    ['heron', 9],
  ])
  expect(seats[0].times + seats[1].times).toBe(9)
  expect(actions[0]).toEqual({ name: 'stall.sell', times: expect.any(Number) })
  expect(rehearse('--random').stdout).toMatch(/^jam-stall {3}9 matches, all to their end/)
  // Otter's jars count twice in the newer version.
  writeFileSync(
    join(folder, 'kind-stall.ts'),
    MODE.replace('amount: jars', "amount: seat === 'otter' ? 2 * jars : jars"),
  )
  const since = (older: string, ...more: readonly string[]) =>
    runProcess(
      'rehearse',
      '--rulebook',
      'kind-stall.ts',
      '--seats',
      '2',
      '--matches',
      '60',
      '--compare',
      older,
      ...more,
    )
  const { compared } = JSON.parse(since('jam-stall.ts', '--json').stdout)
  const otter = compared.shares.find(({ name }: any) => name === 'otter')
  expect(otter).toMatchObject({ what: 'win', isApart: true })
  expect([otter.before < 0.7, otter.now > 0.9, otter.interval[0] > 0]).toEqual([true, true, true])
  expect(since('jam-stall.ts').stdout).toMatch(/win otter +\d\d % +\d+ % +\+\d+ % and \+\d+ %/)
  expect(since('kind-stall.ts').stdout).toContain('none differs by more than chance')
  expect(rehearse('--settings', 'scores')).toMatchObject(badInput('takes JSON by rule'))
  expect(rehearse('--settings', '{"scores":{"no":1}}')).toMatchObject(badInput("there is no setting 'no'"))
})

test('a mode whose code throws ends demo and sightcheck with 1, and says where', () => {
  const options = "options: () => { throw new Error('no jars left') },"
  const offered = MODE.replace('sell: { ', `sell: { offered: true, ${options}\n `)
  writeFileSync(join(folder, 'bad-stall.ts'), offered.replace('jam-stall', 'bad-stall'))
  for (const command of [['demo'], ['sightcheck', '--checks', '2', '--steps', '2']]) {
    const ran = runProcess(...command, '--rulebook', 'bad-stall.ts')
    expect([command, ran.status, ran.stderr]).toEqual([command, 1, ''])
    expect(ran.stdout).toMatch(/stall options sell +\d+ .*options +Error: no jars left +bad-stall\.ts:6:\d+/)
  }
})

test('new writes a mode and its test that run at once, and overwrites nothing', () => {
  expect(runProcess('new', 'lamp-race')).toMatchObject({ status: 0, stderr: '' })
  const played = JSON.parse(runProcess('demo', '--rulebook', 'lamp-race/lamp-race.ts', '--json').stdout)
  expect(played).toMatchObject({ mode: 'lamp-race', over: true, replay: 'same', faults: [] })
  const vitest = fileURLToPath(new URL('../../../node_modules/vitest/vitest.mjs', import.meta.url))
  const tested = spawnSync(process.execPath, [vitest, 'run', '--root', folder, 'lamp-race'], {
    cwd: folder,
    encoding: 'utf8',
  })
  expect([tested.status, tested.stdout]).toEqual([0, expect.stringContaining('1 passed')])
  expect(runProcess('new', 'lamp-race')).toMatchObject(badInput('here already'))
  expect(runProcess('new', 'Lamp Race')).toMatchObject(badInput('cannot name a mode'))
})

test('the mode in the README plays as the README shows', () => {
  const readme = readFileSync(fileURLToPath(new URL('../../../README.md', import.meta.url)), 'utf8')
  const block = (fence: string): string =>
    new RegExp(`\`\`\`${fence}([\\s\\S]*?)\`\`\``).exec(readme)?.[1] ?? ''
  writeFileSync(join(folder, 'duck-pond.ts'), block('ts\\n// duck-pond.ts\\n'))
  const { status, stdout } = runProcess('demo', '--rulebook', 'duck-pond.ts')
  expect(status).toBe(0)
  expect(stdout).toContain(block('text\\nrank').trim())
})

test('a rulebook that throws says where it is wrong', () => {
  writeFileSync(
    join(folder, 'wrong.ts'),
    MODE.replace('[scores, verdict', '[verdict').replace('needs: [scores]', 'needs: [scores] as any'),
  )
  expect(runProcess('demo', '--rulebook', 'wrong.ts')).toMatchObject(badInput('ZR_RULEBOOK_MISSING_NEED'))
  writeFileSync(join(folder, 'none.ts'), 'export const nothing = 1')
  expect(runProcess('demo', '--rulebook', 'none.ts')).toMatchObject(badInput('exports no rulebook'))
})

test('sightcheck finds nothing in a mode that keeps its secrets, and says where another tells them, with exit code 1', () => {
  const kept = runProcess('sightcheck', 'mussel-dip', '--checks', '3')
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
  const told = runProcess('sightcheck', '--rulebook', 'leaky.ts')
  expect(told.status).toBe(1)
  expect(told.stdout).toMatch(
    /view +purse\.purses\.coins +\w+ +\d:\d+ +\/purse\/purses\/\w+\/shown +.*purse\.brag/,
  )
  runProcess('demo', '--rulebook', 'leaky.ts', '--record', 'leaky.jsonl')
  const again = runProcess('sightcheck', 'leaky.jsonl', '--rulebook', 'leaky.ts')
  expect([again.status, again.stdout]).toEqual([1, expect.stringContaining('/shown')])
  const wrong = runProcess('sightcheck', 'leaky.jsonl', '--rulebook', 'leaky.ts', '--seats', '2')
  expect([wrong.status, wrong.stderr]).toEqual([2, expect.stringContaining('Leave --seed and --seats out')])
})
