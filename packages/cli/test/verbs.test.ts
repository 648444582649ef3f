import { spawn } from 'node:child_process'
import { readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { reedRegatta } from '@zinc-referee/examples'
import { beforeAll, expect, test } from 'vitest'
import { playMatch } from 'zinc-referee/testing'
import { badInput, bin, folder, run, runProcess } from './run.ts'

const here = (file: string) => join(folder, file)
const RECORD = here('regatta.jsonl')
const text = async (...args: string[]) => (await run(...args)).stdout
const data = async (...args: string[]) => JSON.parse(await text(...args, '--json'))
beforeAll(() => run('demo', '--record', RECORD))

test('demo --json is data; another seed is another match, the same seed the same', async () => {
  const play = (seed: string) => data('demo', 'kettle-watch', '--seed', seed, '--record', here(seed))
  const [a, b, again] = [await play('fair-1'), await play('fair-2'), await play('fair-1')]
  expect(a).toMatchObject({
    mode: 'kettle-watch',
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

test('explain answers in six lines at most, --deep with all that led to it, and names what there is to ask about', async () => {
  const short = await text('explain', RECORD, 'respawn', 'of', 'otter')
  expect(short).toMatch(/^respawn\.back of otter happened at \d+:\d\d, for the last of \d times\.\n/)
  expect(short).toMatch(/\n\d:\d\d {2}line \d+ +raft\.rammed .*: accepted\n/)
  expect(short.split('\n').filter((line) => line !== '' && !line.includes(' more ')).length).toBeLessThan(7)
  const [, next = ''] = /npx zinc-referee (explain .*)$/m.exec(short) ?? []
  expect(next).toBe(`explain ${RECORD} --deep "respawn of otter"`)
  const deep = await text('explain', RECORD, '--deep', 'respawn of otter')
  expect(deep).toContain('vitals.life gate: lets it through')
  expect(deep.length).toBeGreaterThan(short.length * 2)
  const { answer, causes } = await data('explain', RECORD, 'otter sees heron.cargo')
  expect(answer).toMatch(/otter does not see raft\.hold\.heron\.cargo\.$/)
  expect(causes).toHaveLength(1)
  expect(await run('explain', RECORD, 'otter.fish')).toMatchObject(
    badInput("no cell of otter, event or timer 'fish'"),
  )
})

test('review serves its page and data until it is interrupted; a port that is taken is said', async () => {
  const served = spawn(process.execPath, [bin, 'review', RECORD])
  let said = ''
  served.stdout.on('data', (data) => {
    said += String(data)
  })
  await expect.poll(() => said, { timeout: 120_000 }).toMatch(/next +open the page/)
  expect(said).toMatch(/^reed-regatta {3}3255 inputs {3}10:13\n/)
  const { href, port } = new URL(/http:\S+/.exec(said)?.[0] ?? '')
  expect(await (await fetch(href)).text()).toContain('Looking back')
  const { file, entries } = await (await fetch(`${href}timeline`)).json()
  expect([file, entries.length > 3255]).toEqual([RECORD, true])
  expect(await run('review', RECORD, '--port', port)).toMatchObject(badInput(`Port ${port} cannot be opened`))
  const ended = new Promise((resolve) => served.on('exit', resolve))
  served.kill('SIGINT')
  expect(await ended).toBe(0)
})

test('scenario --cut makes a scenario of a record, which comes as the record did', async () => {
  const cut = await text('scenario', '--cut', RECORD, '--at', '0:20')
  expect(cut).toMatch(/^scenario: reed-regatta up to 0:\d\d/)
  writeFileSync(here('cut.yaml'), cut)
  expect(await text('scenario', here('cut.yaml'))).toMatch(/^as expected .* \d{2,} compared/)
  expect((await data('scenario', '--cut', RECORD, '--line', '12')).seats).toHaveLength(8)
  expect(await run('scenario', '--cut', here('none.jsonl'))).toMatchObject(badInput('There is no file'))
})

test('replay --steps prints each input with its ruling, and --seat what that seat was sent at each', async () => {
  const steps = (...more: string[]) => data('replay', RECORD, ...more)
  const all = (await steps('--steps')).steps
  expect(all).toHaveLength(3255)
  expect(all[0]).toMatchObject({
    line: 2,
    at: 0,
    ruling: 'accepted',
    input: expect.stringContaining('roster.join'),
  })
  const { steps: seen } = await steps('--seat', 'otter', '--from', '0:20', '--to', '0:21')
  expect(seen.every(({ at }: any) => at >= 20_000 && at <= 21_000)).toBe(true)
  const found = seen.find(({ input }: any) => input === 'raft.found {"seat":"otter","crates":1}')
  expect(found.seen).toContainEqual(['raft.hold.otter.cargo', '1'])
  const { steps: others } = await steps('--seat', 'heron', '--from', '0:20', '--to', '0:21')
  expect(JSON.stringify(others)).not.toContain('raft.hold.otter')
  expect(await text('replay', RECORD, '--seat', 'otter', '--from', '0:20', '--to', '0:21')).toMatch(
    /line 99 +0:20 {3}raft\.found .*\n +raft\.hold\.otter\.cargo {3}1\n +notice raft\.found/,
  )
  expect(await run('replay', RECORD, '--seat', 'otterr')).toMatchObject(badInput("Did you mean 'otter'?"))
})

test('view shows each viewer what they may see, and the server all', async () => {
  const as = (seat: string) => data('view', RECORD, '--seat', seat, '--at', '0:57')
  const { hold } = (await as('otter')).raft
  expect(hold.otter).toHaveProperty('cargo')
  expect(hold).not.toHaveProperty('heron')
  expect((await as('spectator')).raft).toEqual({ hold: {} })
  expect(await as('server')).toHaveProperty(['raft.helm.heron.course'])
  expect(await as('server')).toHaveProperty(['phases.now.phase'])
  const at = (time: string) => text('view', RECORD, '--seat', 'otter', '--at', time)
  const lines = async (time: string) => (await at(time)).split('\n').slice(0, -2)
  expect(await lines('57.5s')).toEqual(await lines('57500ms'))
  expect(await lines('57.5s')).toEqual(await lines('0:57.5'))
})

test('a broken line is named by its number, and a foreign file as such', async () => {
  const lines = readFileSync(RECORD, 'utf8').split('\n')
  writeFileSync(here('broken.jsonl'), lines.with(9, '{"t":12').join('\n'))
  expect(await run('replay', here('broken.jsonl'))).toMatchObject(badInput('Line 10 of the record'))
  writeFileSync(here('foreign.jsonl'), '{"hello":"world"}\n')
  expect(await run('replay', here('foreign.jsonl'))).toMatchObject(
    badInput('not a record of a Zinc Referee match'),
  )
})

test('describe and sights give data, and sights a table for a page', async () => {
  const plan = await data('describe', 'stepping-stones')
  expect(plan.rules.at(-1)).toMatchObject({ name: 'stones', actions: [{ name: 'stones.lay', offers: true }] })
  expect(await text('sights', 'mussel-dip', '--markdown')).toContain(
    '| options | `dip.peek` | the seat itself |',
  )
  expect(await text('sights', 'pike-pond')).toMatch(/every \d+ ms/)
  expect(await data('sights', 'mussel-dip')).toContainEqual({
    what: 'notice',
    name: 'dip.peeked.place',
    seenBy: 'everyone',
  })
  expect(await text('describe', 'mussel-dip', '--typescript')).toContain("'dip.peek'")
  expect(await text('describe', 'mussel-dip', '--asyncapi')).toContain('"asyncapi": "3.')
  expect(await text('describe', 'mussel-dip', '--json-schema')).toContain('draft/2020-12')
})

test('a mode is played with its optional rules, by name or all', async () => {
  const header = (file: string) => JSON.parse(readFileSync(here(file), 'utf8').split('\n')[0] ?? '')
  for (const [rules, file] of [
    ['fog, wind', 'two.jsonl'],
    ['all', 'all.jsonl'],
  ] as const)
    await run('demo', 'lantern-market', '--with', rules, '--record', here(file))
  expect([header('two.jsonl').with, header('all.jsonl').with.length]).toEqual([['fog', 'wind'], 6])
  expect(await run('replay', here('two.jsonl'))).toMatchObject({ status: 0 })
})

const scenarios = (name: string) =>
  fileURLToPath(new URL(`../../../examples/scenarios/${name}.yaml`, import.meta.url))

test('scenarios of the fair come as expected; the schema for editors is current', async () => {
  const [ram, ebb] = [scenarios('who-sinks-a-raft'), scenarios('what-is-passed-at-ebb')]
  const { status, stdout } = await run('scenario', ram, ebb)
  expect([status, stdout]).toEqual([0, expect.stringContaining('2 scenarios, all as expected')])
  const schema = new URL('../../../docs/scenario.schema.json', import.meta.url)
  expect(await text('scenario', '--schema')).toBe(readFileSync(schema, 'utf8'))
})

test('what a scenario does not find is printed, as TAP and as JUnit XML, too; a file that is none is refused', async () => {
  const yaml = readFileSync(scenarios('who-sinks-a-raft'), 'utf8')
  const file = here('apart.yaml')
  writeFileSync(
    file,
    yaml.replace('raft.hold.heron.cargo: 2', 'raft.hold.heron.cargo: 7').replace('who sinks', 'who <sinks>'),
  )
  const junit = here('junit.xml')
  const { status, stdout } = await run('scenario', file, '--junit', junit)
  expect([status, stdout]).toEqual([
    1,
    expect.stringContaining('step 2   0:00   heron sees raft.hold.heron.cargo'),
  ])
  expect(stdout).toMatch(/expected +7\n +found +2\n/)
  expect(await text('scenario', file, scenarios('what-is-passed-at-ebb'), '--tap')).toMatch(
    /^TAP version 14\n1\.\.2\nnot ok 1 - who <sinks>.*\n {2}---\n {2}file: .*\n {2}reasons:\n {4}- "step 2, 0:00: heron sees.*\n {2}\.\.\.\nok 2 - at ebb/,
  )
  const xml = readFileSync(junit, 'utf8')
  expect(xml).toContain('<testsuite name="scenarios" tests="1" failures="1">')
  expect(xml).toContain('<testcase name="who &lt;sinks&gt; a raft')
  expect(xml).toContain(
    '<failure message="step 2, 0:00: heron sees raft.hold.heron.cargo: expected 7, found 2">',
  )
  for (const [content, why] of [
    ['steps: [', 'is neither YAML nor JSON'],
    ['scenario: x\nseats: [otter]\nstepps: []', "there is no 'stepps' (did you mean 'steps'?)"],
    ['scenario: x\nseats: [otter]\nsteps: [{}]', 'does not name its mode'],
    ['scenario: x\nmode: reed-regata\nseats: [otter]\nsteps: [{}]', "'reed-regatta'"],
    ['scenario: x\nmode: reed-regatta\nseats: [otter]\nsteps: [{}]', 'did not begin with 1 seats'],
  ] as const) {
    writeFileSync(file, content)
    expect(await run('scenario', file)).toMatchObject(badInput(why))
  }
})

test('load plays regattas over sockets: nothing is lost, also where clients come and go; the plot is a page', async () => {
  const asked = '--matches 3 --seats 3 --rate 5 --for 2 --slow 20 --drop 10%'
  const { status, stdout, stderr } = runProcess('load', ...asked.split(' '), '--plot', 'load.html')
  expect([status, stderr.includes('0 s')]).toEqual([0, true])
  expect(stdout).toMatch(/action → ruling +\d+/)
  expect(Number(/report → notice +(\d+)/.exec(stdout)?.[1])).toBeGreaterThan(3)
  expect(stdout).toContain('lost 0')
  expect(readFileSync(join(folder, 'load.html'), 'utf8')).toContain('Action to ruling, in ms')
  for (const bad of ['--seats 9', '--rate x', '--matches 0', '--slow 101'])
    expect([bad, (await run('load', ...bad.split(' '))).status]).toEqual([bad, 2])
})

test('erase takes a player out of a record, which replays to the same rulings; who is not in it is an error', async () => {
  const record = here('erased.jsonl')
  const lines: string[] = []
  const { match } = playMatch(reedRegatta, [], { seed: 'fair-1', record: (line) => void lines.push(line) })
  for (const [seat, name] of [
    ['otter', 'Olivia Otter'],
    ['heron', 'Henry Heron'],
  ] as const) {
    match.direct('roster.join', { seat, name, player: `account-${seat}` })
    match.submit(seat, 'roster.ready', {})
  }
  match.advanceTo(20_000)
  match.report('raft.found', { seat: 'otter', crates: 3 })
  match.direct('roster.absent', { seat: 'otter' })
  match.direct('roster.join', { seat: 'otter', name: 'Olivia Otter', player: 'account-otter' })
  match.close()
  writeFileSync(record, lines.map((line) => `${line}\n`).join(''))
  expect((await run('erase', record, '--player', 'account-otter')).status).toBe(0)
  const kept = readFileSync(record, 'utf8')
  expect(kept).not.toMatch(/Olivia|account-otter/)
  expect(kept).toMatch(/Henry Heron/)
  expect((await run('replay', record)).status).toBe(0)
  expect(kept.split('\n').length).toBe(lines.length + 1)
  const again = await run('erase', record, '--player', 'account-otter')
  expect([again.status, again.stderr]).toEqual([2, expect.stringContaining('does not name this player')])
  expect((await run('erase', record, '--player', 'account-heron')).status).toBe(0)
  expect(readFileSync(record, 'utf8')).toMatch(/"erased-2"/)
  // In the demo nobody gives an id: there it is the seat's, which stays.
  expect((await run('erase', RECORD, '--player', 'otter')).status).toBe(0)
  expect(readFileSync(RECORD, 'utf8')).not.toContain('"name":"Otter"')
  expect(readFileSync(RECORD, 'utf8')).toContain('"seat":"otter"')
  expect((await run('replay', RECORD)).status).toBe(0)
})

test('what serve is told of a circuit without one, or wrongly, is refused before anything is opened', async () => {
  const serve = (...more: string[]) => run('serve', 'stepping-stones', '--port', '0', ...more)
  expect(await serve('--full-at', '100')).toMatchObject(
    badInput('--full-at is about a circuit. Give --circuit'),
  )
  expect(await serve('--pass-on')).toMatchObject(badInput('--pass-on is about a circuit'))
  const servers = ['--circuit', 'nats://127.0.0.1:1']
  expect(await serve(...servers, '--workers', '2')).toMatchObject(badInput('venues, not workers'))
  expect(await serve(...servers, '--venue', 'a b')).toMatchObject(badInput("'a b' cannot name a venue"))
  expect(await serve(...servers, '--host', '0.0.0.0')).toMatchObject(badInput('Give --address'))
})
