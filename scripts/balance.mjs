// Plays matches of a mode by equal bots and says how they went:
// node scripts/balance.mjs MODE [MATCHES] [--random] [--seats N] [--with all] [--set rule.setting=number]
import { parseArgs } from 'node:util'
import { modes } from '@zinc-referee/examples'
import { beginAnyMatch } from 'zinc-referee'
import { randomCrowd } from 'zinc-referee/testing'

const { positionals, values } = parseArgs({
  allowPositionals: true,
  options: {
    random: { type: 'boolean' },
    seats: { type: 'string' },
    with: { type: 'string' },
    set: { type: 'string', multiple: true },
  },
})
const [name = 'stepping-stones', count = '200'] = positionals
const mode = modes[name]
if (mode === undefined)
  throw new Error(`no mode is called ${name}; there are ${Object.keys(modes).join(', ')}`)
const { rulebook, demo } = mode
const seats = Array.from(
  { length: Number(values.seats ?? demo.seats.length) },
  (_, at) => demo.seats[at] ?? { id: `guest-${at}`, name: `Guest ${at}` },
)
const taken = values.with === 'all' ? rulebook.optional : (values.with?.split(',') ?? [])
const settings = {}
for (const each of values.set ?? []) {
  const [, rule, setting, value] = /^(.*)\.(.*)=(.*)$/.exec(each) ?? []
  settings[rule] = { ...settings[rule], [setting]: JSON.parse(value) }
}
const HOUR = 3_600_000

const tallies = { endings: {}, 'wins by seat': {}, 'wins by side': {}, actions: {} }
const add = (tally, key) => {
  tallies[tally][key] = (tallies[tally][key] ?? 0) + 1
}
const lengths = []
let [starts, decided, faults] = [0, 0, 0]
for (let n = 0; n < Number(count); n++) play(`balance-${n}`)
report()

function play(seed) {
  const match = beginAnyMatch(rulebook, { seed, with: taken, settings, record: counted })
  for (const { id, name: called } of seats) match.direct('roster.join', { seat: id, name: called, bot: true })
  match.direct('phases.start', {})
  const crowd = values.random ? randomCrowd(seed) : demo.crowd(seed)
  const rules = match.state
  let starter
  while (rules.phases.now.phase !== 'over' && match.now < HOUR) {
    match.advanceTo(match.now + (crowd.every ?? 1000))
    starter ??= rules.turns?.now.seat
    crowd.beat(match, () => true)
  }
  const { kind, reason, winners, at } = rules.verdict.end
  add('endings', `${reason} (${kind})`)
  lengths.push(at)
  faults += match.faults.length
  if (kind !== 'win') return
  decided++
  for (const seat of winners) add('wins by seat', seat)
  const side = rules.teams?.side.of(winners[0]).team ?? rules.roles?.seats.of(winners[0]).role
  if (side !== undefined) add('wins by side', side)
  if (winners.includes(starter)) starts++
}

function counted(line) {
  const { submit, no } = JSON.parse(line)
  if (submit !== undefined && no === undefined) add('actions', submit)
}

function report() {
  lengths.sort((a, b) => a - b)
  const at = (part) => Math.round((lengths[Math.floor(part * (lengths.length - 1))] ?? 0) / 1000)
  console.log(`${name}: ${count} matches of ${seats.length} ${values.random ? 'random' : 'equal'} bots`)
  console.log(`length     ${at(0.1)} s, ${at(0.5)} s, ${at(0.9)} s (a tenth, half, nine tenths are shorter)`)
  for (const [tally, counts] of Object.entries(tallies)) {
    const sorted = Object.entries(counts).sort(([, a], [, b]) => b - a)
    if (sorted.length > 0)
      console.log(`${tally.padEnd(10)} ${sorted.map(([key, n]) => `${key} ${n}`).join(', ')}`)
  }
  if (starts > 0) console.log(`starter    wins ${starts} of ${decided}`)
  console.log(`faults     ${faults}`)
}
