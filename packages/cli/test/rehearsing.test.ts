import { readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { beforeAll, expect, test } from 'vitest'
import { badInput, folder, runBuilt } from './run.ts'
import { MODE } from './stall-mode.ts'

beforeAll(() => writeFileSync(join(folder, 'jam-stall.ts'), MODE))

test('check rehearses a mode, and says where what never happens is, and what went wrong', async () => {
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
  const found = await runBuilt('check', ...asked.split(' '))
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
  expect(await runBuilt('check', '--rulebook', 'calm-stall.ts', '--matches', '4')).toMatchObject({
    status: 0,
    stdout: expect.stringContaining('nothing found'),
  })
  expect(await runBuilt('check', '--rulebook', 'calm-stall.ts', '--seats', '9')).toMatchObject(
    badInput('takes 2 to 4 seats'),
  )
})

test('check finds settings that nobody reads, inputs that take long, redirections that clash, and matches that stand still', async () => {
  const found = async (name: string, text: string, matches: string) => {
    writeFileSync(join(folder, name), text)
    const { stdout, status } = await runBuilt('check', '--rulebook', name, '--matches', matches, '--json')
    return [status, JSON.parse(stdout).findings.map(({ kind, name: what }: any) => `${kind} ${what}`)]
  }
  // Twice the same mode: in one of them each thing is wrong, in the other it is right.
  const gifts = (wrong: boolean) => `
import { amount, declareRule, defineRulebook, everyone, int, perSeat, seatRef } from 'zinc-referee'
import { firstTo, inPhase, scores, verdict } from 'zinc-referee/rules'
import { fields, setting, whole } from 'zinc-referee/settings'
const wait = (ms: number): void => { const end = performance.timeOrigin + performance.now() + ms; while (performance.timeOrigin + performance.now() < end); }
const shape = declareRule({
  name: 'gifts', needs: [scores],
  settings: fields({ most: setting(whole(), 3) }),
  state: { given: perSeat({ n: int(0).seenBy(everyone) }) },
  drafts: { gift: { target: seatRef(), n: amount() } },
})
const gifts = shape.does({
  actions: { give: { input: { n: int(1).between(1, 3) }, when: inPhase('live'), decide(match, seat, { n }) {
    if (n > 1 && ${wrong}) wait(55)
    if (n > ${wrong ? '3' : 'match.settings.most'}) return undefined
    return match.resolve('gift', { target: seat, n })
  } } },
  apply: { gift(match, { target, n }) { match.own.given.of(target).n += n; return match.use(scores).give({ seat: target, amount: n, reason: 'gift' }) } },
})
const amends = (name: string, at: number) => declareRule({ name, needs: [gifts] }).does({
  amend: { 'gifts.gift'(match, draft) { const to = match.seats[at]; if (to !== undefined && draft.target !== to${wrong ? '' : ' && at === 0'}) draft.redirect(to) } },
})
export default defineRulebook({ name: 'gifts', seats: { min: 3, max: 3 }, rules: [scores, verdict({ when: [firstTo(6)] }), gifts, amends('first', 0), amends('second', 1)] })
`
  const [status, wrong] = await found('bad-gifts.ts', gifts(true), '1')
  expect(status).toBe(1)
  for (const each of ['never-read gifts.most', 'slow gifts.give', 'clash first.gifts.gift'])
    expect(wrong).toContain(each)
  const [, right] = await found('good-gifts.ts', gifts(false), '1')
  expect(right.filter((each: string) => /^(never-read|slow|clash|never-over|no-way-out)/.test(each))).toEqual(
    [],
  )
  // Each rolls once, and then nobody can do anything: or each may go on.
  const dice = (more: string) => `
import { defineRule, defineRulebook, flag, perSeat, refuse } from 'zinc-referee'
import { inPhase, verdict } from 'zinc-referee/rules'
const dice = defineRule({ name: 'dice', needs: [verdict], state: { hand: perSeat({ rolled: flag(false) }) }, actions: {
  roll: { when: inPhase('live'), offered: true, input: {}, decide(match, seat) {
    if (match.own.hand.of(seat).rolled) ${more}
    match.own.hand.of(seat).rolled = true
  } },
} })
export default defineRulebook({ name: 'dice', seats: { min: 2, max: 2 }, rules: [verdict({}), dice] })
`
  expect((await found('still-dice.ts', dice("return refuse('not-now')"), '1'))[1]).toContain(
    'no-way-out dice',
  )
  expect((await found('dice.ts', dice('return undefined'), '1'))[1]).not.toContain('no-way-out dice')
})

test('rehearse says how matches go, the same each time, and refuses settings that are none', async () => {
  const rehearse = (...more: readonly string[]) =>
    runBuilt('rehearse', '--rulebook', 'jam-stall.ts', '--seats', '2', '--matches', '9', ...more)
  const went = await rehearse('--json', '--workers', '1')
  expect(went.status).toBe(0)
  expect((await rehearse('--json', '--workers', '2')).stdout).toBe(went.stdout)
  expect(JSON.parse((await rehearse('--json', '--seconds', '0', '--workers', '1')).stdout).matches).toBe(1)
  expect(await rehearse('--workers', '0')).toMatchObject(badInput('at least one worker'))
  const { over, endings, seats, sides, actions } = JSON.parse(went.stdout)
  expect([over, endings, sides]).toEqual([9, [{ name: 'win: goal-reached', times: 9 }], []])
  expect(seats.map(({ name, of }: any) => [name, of])).toEqual([
    ['otter', 9],
    ['heron', 9],
  ])
  expect(seats[0].times + seats[1].times).toBe(9)
  expect(actions[0]).toEqual({ name: 'stall.sell', times: expect.any(Number) })
  expect((await rehearse('--random', '--workers', '1')).stdout).toMatch(
    /^jam-stall {3}9 matches, all to their end/,
  )
  expect(
    JSON.parse((await rehearse('--json', '--think', '4', '--matches', '1', '--workers', '1')).stdout).over,
  ).toBe(1)
  // Otter's jars count twice in the newer version.
  writeFileSync(
    join(folder, 'kind-stall.ts'),
    MODE.replace('amount: jars', "amount: seat === 'otter' ? 2 * jars : jars"),
  )
  const since = (older: string, ...more: readonly string[]) =>
    runBuilt(
      'rehearse',
      '--rulebook',
      'kind-stall.ts',
      '--seats',
      '2',
      '--matches',
      '24',
      '--workers',
      '1',
      '--compare',
      older,
      ...more,
    )
  const { compared } = JSON.parse((await since('jam-stall.ts', '--json')).stdout)
  const otter = compared.shares.find(({ name }: any) => name === 'otter')
  expect(otter).toMatchObject({ what: 'win', isApart: true })
  expect([otter.before < 0.7, otter.now > 0.9, otter.interval[0] > 0]).toEqual([true, true, true])
  expect((await since('jam-stall.ts')).stdout).toMatch(/win otter +\d\d % +\d+ % +\+\d+ % and \+\d+ %/)
  expect((await since('kind-stall.ts')).stdout).toContain('none differs by more than chance')
  expect(await rehearse('--settings', 'scores')).toMatchObject(badInput('takes JSON by rule'))
  expect(await rehearse('--workers', '1', '--settings', '{"scores":{"no":1}}')).toMatchObject(
    badInput("there is no setting 'no'"),
  )
})

test('rehearse makes records of what it finds short, and sets values of a setting side by side', async () => {
  const asked = 'rehearse --seats 2 --matches 6 --workers 1 --rulebook'.split(' ') as [string, ...string[]]
  const bad = MODE.replace(
    "name: 'stall',",
    `name: 'stall', settle: { tier: 'verdict', wokenBy: ['sold'], run(match) {
  if (match.seats.some((seat) => match.own.sold.of(seat).jars > 2)) throw new Error('dust') } },`,
  )
  writeFileSync(join(folder, 'dusty-stall.ts'), bad)
  const found = await runBuilt(...asked, 'dusty-stall.ts', '--random')
  expect(found.status).toBe(1)
  // Two join, two are ready, one sells three jars at once or in two goes: less does not show it.
  expect(found.stdout).toMatch(
    /fault +stall settle throws: Error: dust\nfound .*\nrecord +(\S+) +[56] of \d+ inputs\nexplain .*stall\.sell \{"jars":\d\} was refused with fault/,
  )
  const [, record = ''] = /record +(\S+)/.exec(found.stdout) ?? []
  const again = await runBuilt('replay', record, '--rulebook', 'dusty-stall.ts')
  expect(again.stdout).toMatch(/stall settle +1 /)
  expect(again.stdout).toContain('the same rulings and hashes')
  // Nobody sells anything, and the bots look once a minute: hours pass soon.
  const endless = `${MODE}\nexport const demo = { crowd: () => ({ every: 60_000, beat() {} }) }`
  writeFileSync(join(folder, 'long-stall.ts'), endless)
  const long = await runBuilt(...asked, 'long-stall.ts', '--json', '--matches', '1')
  expect(JSON.parse(long.stdout).findings).toMatchObject([{ kind: 'endless', times: 1, match: 0 }])

  // Who sells three jars at once tells everybody what only its owner may know.
  const told = MODE.replace(
    'jars: int(0).seenBy(everyone)',
    'jars: int(0).seenBy(everyone), luck: int(5).seenBy(owner)',
  )
    .replace('everyone, int', 'everyone, owner, int')
    .replace('.jars += jars', '.jars = jars + match.own.sold.of(seat).luck')
  writeFileSync(join(folder, 'lucky-stall.ts'), told)
  const leaking = await runBuilt(...asked, 'lucky-stall.ts', '--random')
  expect(leaking.status).toBe(1)
  expect(leaking.stdout).toMatch(
    /leak +stall\.sold\.luck gets out by a view, at \S+\/jars\n(.*\n)*npx zinc-referee sightcheck \S+-leak\.jsonl --rulebook lucky-stall\.ts/,
  )

  const vary = ['jam-stall.ts', '--vary', 'verdict.giveUpShare=0.5,1', '--csv', 'w.csv', '--plot', 'w.svg']
  const varied = await runBuilt(...asked, ...vary)
  expect(varied).toMatchObject({ status: 0, stderr: '' })
  expect(varied.stdout).toMatch(/verdict\.giveUpShare +to the end +length +otter +heron.*\n +0\.5 +6 /)
  const csv = readFileSync(join(folder, 'w.csv'), 'utf8').split('\r\n')
  expect(csv[0]).toBe('setting,what,name,times,of,low,high')
  expect(
    csv.filter((row) => /^(0\.5|1),win,(otter|heron),\d,6,0\.\d{4},[01]\.\d{4}$/.test(row)),
  ).toHaveLength(4)
  const svg = readFileSync(join(folder, 'w.svg'), 'utf8')
  for (const shown of ['<svg', 'jam-stall: who wins, by verdict.giveUpShare', 'otter', 'heron'])
    expect(svg).toContain(shown)
  await runBuilt(...asked, 'jam-stall.ts', '--plot', 'w.png')
  expect(readFileSync(join(folder, 'w.png')).subarray(1, 4).toString()).toBe('PNG')
  for (const [option, value, says] of [
    ['--plot', 'w.gif', "'w.gif' is neither"],
    ['--vary', 'rounds', 'takes a setting and its values'],
    ['--vary', 'scores.lenght=1000', "there is no setting 'lenght'"],
    ['--think', '0', 'Try out at least one match'],
  ] as const)
    expect(await runBuilt(...asked, 'jam-stall.ts', option, value)).toMatchObject(badInput(says))
})
