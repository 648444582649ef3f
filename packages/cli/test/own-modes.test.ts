import { spawn, spawnSync } from 'node:child_process'
import { readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { openVenue } from '@zinc-referee/venue'
import { connect } from '@zinc-referee/venue/client'
import { expect, test } from 'vitest'
import { WebSocket } from 'ws'
import { loadMode } from '../src/modes/load-mode.ts'
import { fillWithBots } from '../src/play/bots.ts'
import { badInput, bin, folder, runBuilt, runProcess } from './run.ts'
import { MODE } from './stall-mode.ts'

test("a user's own .ts rulebook is played, recorded, replayed and served", async () => {
  writeFileSync(join(folder, 'jam-stall.ts'), MODE)
  const played = runProcess('demo', '--rulebook', 'jam-stall.ts')
  expect(played).toMatchObject({ status: 0, stderr: '' })
  expect(played.stdout).toMatch(/jam-stall {3}seed fair-1 {3}4 seats/)
  expect(played.stdout).toMatch(/verdict +(\w+ wins|.*draw)\n +goal-reached/)
  expect((await runBuilt('replay', 'records/jam-stall-fair-1.jsonl')).stderr).toContain('--rulebook FILE')
  const { stdout: replayed } = await runBuilt(
    'replay',
    'records/jam-stall-fair-1.jsonl',
    '--rulebook',
    'jam-stall.ts',
  )
  expect(replayed).toContain('the same rulings and hashes')
  // What it says to do next runs as it stands.
  const [, next = ''] = /next +npx zinc-referee (.*)/.exec(replayed) ?? []
  expect((await runBuilt(...next.split(' '))).status).toBe(0)

  // A long record is read while it is played, and a broken line of it keeps its number.
  const [header = '', ...lines] = readFileSync(join(folder, 'records/jam-stall-fair-1.jsonl'), 'utf8').split(
    '\n',
  )
  const refused = '{"t":0,"submit":"stall.sell","seat":"otter","input":{"jars":9},"no":"unknown-seat"}'
  const long = (...more: readonly string[]) => {
    writeFileSync(join(folder, 'long.jsonl'), [header, ...Array(2500).fill(refused), ...more].join('\n'))
    return runBuilt('replay', 'long.jsonl', '--rulebook', 'jam-stall.ts')
  }
  expect((await long(...lines)).stdout).toMatch(/inputs +25\d\d\n(.*\n)*result +the same rulings and hashes/)
  expect(await long('{"t":0,"subm')).toMatchObject(badInput('Line 2502 of the record cannot be read'))
  // What comes later is not read, and so not looked at, either.
  const late = JSON.stringify({ ...JSON.parse(refused), t: 3_600_000 })
  writeFileSync(join(folder, 'late.jsonl'), [header, ...lines, ...Array(2500).fill(late), '{"t":'].join('\n'))
  const seen = await runBuilt(
    'view',
    'late.jsonl',
    '--seat',
    'server',
    '--at',
    '0:03',
    '--rulebook',
    'jam-stall.ts',
  )
  expect([seen.status, seen.stdout]).toEqual([0, expect.stringContaining('server at 0:03')])
  expect(await runBuilt('sheet', 'late.jsonl', '--rulebook', 'jam-stall.ts')).toMatchObject(
    badInput('cannot be read'),
  )

  // Two versions of it, side by side.
  writeFileSync(join(folder, 'dear-stall.ts'), MODE.replace('amount: jars', 'amount: 2 * jars'))
  const diff = (rulebook: string) =>
    runBuilt('diff', 'records/jam-stall-fair-1.jsonl', '--before', 'jam-stall.ts', '--rulebook', rulebook)
  expect(await diff('jam-stall.ts')).toMatchObject({
    status: 0,
    stdout: expect.stringContaining('the same: states'),
  })
  const apart = await diff('dear-stall.ts')
  expect(apart.status).toBe(1)
  expect(apart.stdout).toMatch(/first +line \d+ +0:\d\d.* +after \w+'s stall.sell \{"jars":(\d)\}/)
  expect(apart.stdout).toMatch(/scores\.sums\.\w+\.score +\d+ +\d+/)
  expect(apart.stdout).toMatch(/\d+ +0:\d\d.* accepted +over/)
  expect(apart.stdout).toMatch(/now +(win|none when)/)
  expect(
    await runBuilt('diff', 'records/jam-stall-fair-1.jsonl', '--rulebook', 'dear-stall.ts'),
  ).toMatchObject(badInput('--before FILE'))

  // Ended by SIGTERM, it is suspended and goes on; by SIGINT, its match is over.
  for (const [signal, more, before, after] of [
    ['SIGTERM', [], '', 'Serve again with the same records'],
    ['SIGINT', [], 'goes on', 'closed, with whole records'],
    ['SIGINT', ['--workers', '2'], 'workers', 'closed, with whole records'],
  ] as const) {
    const served = spawn(
      process.execPath,
      [bin, 'serve', '--rulebook', 'jam-stall.ts', '--port', '0', ...more],
      { cwd: folder },
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

test('a bot whose name a player has goes before the others, and does not come back', async () => {
  const mode = await loadMode('kettle-watch', undefined)
  const venue = await openVenue({ joined: (hosted) => fillWithBots(hosted, mode) })
  const hosted = venue.begin('kettle', mode.rulebook)
  const names = () => hosted.match.allSeats.map((seat) => hosted.match.state.roster.seats.of(seat).name)
  const url = `ws://127.0.0.1:${venue.port}/socket`
  for (const name of ['Vole', 'Heron']) await connect({ url, name, WebSocket, changed() {}, ended() {} })
  fillWithBots(hosted, mode)
  expect(names().sort()).toEqual(['Coot', 'Heron', 'Newt', 'Otter', 'Vole'])
  await venue.close()
})

test('a mode whose code throws ends demo and sightcheck with 1, and says where', async () => {
  const options = "options: () => { throw new Error('no jars left') },"
  const offered = MODE.replace('sell: { ', `sell: { offered: true, ${options}\n `)
  writeFileSync(join(folder, 'bad-stall.ts'), offered.replace('jam-stall', 'bad-stall'))
  for (const command of [['demo'], ['sightcheck', '--checks', '1', '--steps', '2']]) {
    const ran = await runBuilt(...command, '--rulebook', 'bad-stall.ts')
    expect([command, ran.status, ran.stderr]).toEqual([command, 1, ''])
    expect(ran.stdout).toMatch(/stall options sell +\d+ .*options +Error: no jars left +bad-stall\.ts:6:\d+/)
  }
})

test('new writes a mode and its test that run at once, and overwrites nothing', async () => {
  expect(await runBuilt('new', 'lamp-race')).toMatchObject({ status: 0, stderr: '' })
  const played = JSON.parse((await runBuilt('demo', '--rulebook', 'lamp-race/lamp-race.ts', '--json')).stdout)
  expect(played).toMatchObject({ mode: 'lamp-race', over: true, replay: 'same', faults: [] })
  const vitest = fileURLToPath(new URL('../../../node_modules/vitest/vitest.mjs', import.meta.url))
  const tested = spawnSync(process.execPath, [vitest, 'run', '--root', folder, 'lamp-race'], {
    cwd: folder,
    encoding: 'utf8',
  })
  expect([tested.status, tested.stdout]).toEqual([0, expect.stringContaining('1 passed')])
  expect(await runBuilt('new', 'lamp-race')).toMatchObject(badInput('here already'))
  expect(await runBuilt('new', 'Lamp Race')).toMatchObject(badInput('cannot name a mode'))
})

test('the mode in the README plays as the README shows', async () => {
  const readme = readFileSync(fileURLToPath(new URL('../../../README.md', import.meta.url)), 'utf8')
  const block = (fence: string): string =>
    new RegExp(`\`\`\`${fence}([\\s\\S]*?)\`\`\``).exec(readme)?.[1] ?? ''
  writeFileSync(join(folder, 'duck-pond.ts'), block('ts\\n// duck-pond.ts\\n'))
  const { status, stdout } = await runBuilt('demo', '--rulebook', 'duck-pond.ts')
  expect(status).toBe(0)
  expect(stdout).toContain(block('text\\nrank').trim())
})

test('a rulebook that throws says where it is wrong', async () => {
  writeFileSync(
    join(folder, 'wrong.ts'),
    MODE.replace('[scores, verdict', '[verdict').replace('needs: [scores]', 'needs: [scores] as any'),
  )
  expect(await runBuilt('demo', '--rulebook', 'wrong.ts')).toMatchObject(badInput('ZR_RULEBOOK_MISSING_NEED'))
  writeFileSync(join(folder, 'none.ts'), 'export const nothing = 1')
  expect(await runBuilt('demo', '--rulebook', 'none.ts')).toMatchObject(badInput('exports no rulebook'))
})

test('sightcheck finds nothing in a mode that keeps its secrets, and says where another tells them, with exit code 1', async () => {
  const kept = await runBuilt('sightcheck', 'mussel-dip', '--checks', '1', '--workers', '1')
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
  const told = await runBuilt('sightcheck', '--rulebook', 'leaky.ts', '--checks', '5', '--workers', '2')
  expect(told.status).toBe(1)
  expect(told.stdout).toMatch(
    /view +purse\.purses\.coins +\w+ +\d:\d+ +\/purse\/purses\/\w+\/shown +.*purse\.brag/,
  )
  await runBuilt('demo', '--rulebook', 'leaky.ts', '--record', 'leaky.jsonl')
  const again = await runBuilt('sightcheck', 'leaky.jsonl', '--rulebook', 'leaky.ts')
  expect([again.status, again.stdout]).toEqual([1, expect.stringContaining('/shown')])
  const wrong = await runBuilt('sightcheck', 'leaky.jsonl', '--rulebook', 'leaky.ts', '--seats', '2')
  expect([wrong.status, wrong.stderr]).toEqual([2, expect.stringContaining('Leave --seed and --seats out')])
})
