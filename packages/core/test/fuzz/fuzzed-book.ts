import {
  choice,
  defineRule,
  defineRulebook,
  everyone,
  int,
  maybe,
  nobody,
  owner,
  perSeat,
  rowOf,
  seatRef,
  side,
  table,
  text,
} from 'zinc-referee'
import {
  areasOf,
  ballotOf,
  boostsOf,
  credit,
  errands,
  firstTo,
  holds,
  idle,
  longestHold,
  mostAtTime,
  mostRounds,
  notebookOf,
  pilesOf,
  reactions,
  respawn,
  rolesOf,
  roster,
  rounds,
  scores,
  sealedOf,
  sheetOf,
  signalsOf,
  teams,
  turnStep,
  turns,
  verdict,
  vitals,
  whileUp,
  zones,
} from 'zinc-referee/rules'
import { fields, word } from 'zinc-referee/settings'
import { fact } from '../fixtures/inputs.ts'

export const SEATS = ['otter', 'heron', 'vole', 'newt']

const act = turnStep('act', { budget: 2 })
const charms = boostsOf({
  bell: { lasts: 3000 },
  veil: { lasts: 2000, again: 'stack', most: 2, seenBy: owner },
})
const crews = rolesOf({ baker: {}, fox: { count: 1, between: [0, 2], tellCamp: true } })
const keepers = rolesOf({ ringer: {}, keeper: { perTeam: 1, camp: 'ringer' } })
const fog = areasOf({ near: 40, every: 200, teamSees: true, downSees: 'nothing' })
const meadow = areasOf({ near: 50, far: 70, every: 200, hintEvery: 1500 })
const shells = pilesOf(
  'shells',
  choice('amber', 'ink'),
  { deck: 'deck', cloth: 'table', heap: 'top', rack: 'rack' },
  { refill: { deck: 'heap' } },
)
const diary = notebookOf(fields({ of: word, face: word }))
const bid = sealedOf('bid', int().between(0, 3), { otherwise: 0 })
const poll = ballotOf('poll')
const tally = sheetOf({ hits: {}, best: { keeps: 'most', seenBy: owner }, falls: { seenBy: nobody } })

/** Rules that may be in a book or not. */
const optional = {
  teams: teams({ count: 2 }),
  respawn: respawn({ after: 1200, lives: 3 }),
  waves: respawn({ mode: 'wave', waveEvery: 3000, ask: true }),
  credit: credit({}),
  holds: holds({ things: ['lamp'], onLeave: 'fewest' }),
  charms,
  crews: crews({ revealOnOut: true }),
  keepers: keepers({ dealt: 'round', whenHolderGoes: 'passes-on' }),
  errands: errands({
    list: [
      { kind: 'stave', need: 20, within: 6000 },
      { kind: 'hoop', need: 10 },
    ],
    each: 1,
  }),
  meadow,
  fog,
  zones: zones({ names: ['mill'], needed: 1000, scoreEvery: 700 }),
  bells: zones({
    names: ['mill', 'weir'],
    places: { weir: { x: 50, y: 0, reach: 30 } },
    counts: 'time',
    goal: 2500,
  }),
  tally,
  signals: signalsOf({ hello: {}, help: { seenBy: side } }),
  shells,
  diary,
  bid: bid({ time: 2500, leaverChoice: 'keep' }),
  poll: poll({ time: 3000, ties: 'run-off', whoSeen: 'nobody' }),
  turns: turns({ steps: [act], takingBack: true, turnTime: 4000, passing: 'out-for-cycle' }),
  together: turns({ steps: [act], order: 'together' }),
  reactions,
  idle: idle({ after: 5000 }),
  watchful: idle({ after: 4000, warnAfter: 2000, whenIdle: 'bot' }),
} as const
export const OPTIONAL = Object.keys(optional) as (keyof typeof optional)[]

const lateJoins = ['seat', 'next-round', 'watch', 'refuse'] as const
export interface BookShape {
  readonly with: readonly (keyof typeof optional)[]
  readonly rounds: object
  readonly ends: number
  readonly lateJoin?: (typeof lateJoins)[number]
}

/**
 * A rule that does to the others whatever a mode could, and throws where its mood says so: in handlers of events and
 * amendments, in timers, settling, sights, masks, derived cells, options and trials.
 */
const gremlin = defineRule({
  name: 'gremlin',
  needs: [vitals, scores, roster],
  knows: [bid, charms, crews, holds, meadow, poll, shells, errands, turns, zones, tally, diary],
  state: {
    mood: perSeat({ at: int(0) }),
    rows: table({ of: maybe(seatRef()), n: int(0), to: maybe(rowOf('rows')), word: text('reed') })
      .ownedBy('of' as never)
      .seenWhen({
        n: ({ n, of }: any) => sly(n === 7) || (n % 2 === 0 ? everyone : ownerOf(of)),
        word: () => everyone,
      } as any)
      .maskedBy({ n: { to: everyone, as: ({ n }: any) => (n === 9 ? bug() : n > 3) } } as any)
      .derives({ size: { to: everyone, as: ({ n, word }: any) => (n === 11 ? bug() : word.length) } } as any),
  } as any,
  actions: {
    wave: {
      when: whileUp,
      offered: true,
      input: {},
      decide: (match: any, seat: string) => touchy(match, seat, 1),
    },
    pick: {
      when: act,
      offered: true,
      input: { row: rowOf('rows') },
      options(match: any, seat: string) {
        touchy(match, seat, 2)
        return match.own.rows.all().map(({ id }: any) => ({ row: id }))
      },
      decide(match: any, seat: string, { row }: any) {
        touchy(match, seat, 3)
        match.own.rows.remove(row)
      },
    },
  } as any,
  facts: {
    stir: fact({ seat: seatRef(), at: int() }, (match, { seat, at }) => set(match, seat, at)),
    lay: fact({ seat: seatRef(), n: int() }, (match, { seat, n }) => {
      const all = match.own.rows.all()
      match.own.rows.add({ of: seat, n, to: all.at(n % (all.length + 1))?.id })
    }),
    shift: fact({ n: int(), by: int() }, (match, { n, by }) => {
      const all = match.own.rows.all()
      const row = all[n % Math.max(1, all.length)]
      if (row !== undefined) row.n += by
      if (by === 5) match.own.rows.renew(row?.id ?? '')
    }),
    hit: fact({ target: seatRef(), by: maybe(seatRef()), amount: int() }, (match, blow) =>
      match.use(vitals).hurt(blow),
    ),
    earn: fact({ seat: seatRef(), amount: int() }, (match, given) =>
      match.use(scores).give({ ...given, reason: 'earned' }),
    ),
    out: fact({ seat: seatRef() }, (match, { seat }) => match.use(roster).sideline(seat, 'tired')),
    charm: fact({ seat: seatRef(), kind: choice('bell', 'veil') }, (match, given) =>
      match.use(charms)?.give(given),
    ),
    take: fact({ seat: seatRef() }, (match, { seat }) => match.use(holds)?.take(seat, 'lamp')),
    swim: fact({ seat: seatRef(), x: int() }, (match, { seat, x }) =>
      match.use(meadow)?.put(seat, { x, y: 0 }),
    ),
    show: fact({ seat: seatRef(), by: seatRef(), in: int() }, (match, { seat, by, in: ms }) =>
      match.use(meadow)?.reveal(seat, ms, seat === by ? undefined : [by]),
    ),
    gift: fact({ seat: seatRef(), in: int() }, (match, { seat, in: ms }) =>
      match.use(zones)?.giveTime(seat, 'mill', ms),
    ),
    aim: fact({ in: int() }, (match, { in: ms }) => match.use(zones)?.setGoal(ms === 0 ? undefined : ms)),
    enter: fact({ seat: seatRef() }, (match, { seat }) => match.use(zones)?.enter(seat, 'mill')),
    swap: fact({ seat: seatRef(), by: seatRef() }, (match, { seat, by }) => match.use(crews)?.swap(seat, by)),
    draw: fact({ seat: seatRef() }, (match, { seat }) => match.use(shells)?.draw({ seat, from: 'deck' })),
    hand: fact({ seat: seatRef(), by: seatRef() }, (match, { seat, by }) => {
      const cards = (match.use(shells)?.hand(seat) ?? []).slice(0, 1)
      for (const { id, face } of cards) {
        match.use(shells)?.peek(by, [id])
        match.use(diary)?.write(by, { of: seat, face })
      }
      const ids = cards.map(({ id }: any) => id)
      if (seat !== by) return match.use(shells)?.pass([{ from: seat, to: by, cards: ids }])
      match.use(shells)?.endPeek(seat)
      return match.use(shells)?.move({ seat, cards: ids, from: 'hand', to: 'rack' })
    }),
    ask: fact({}, (match) => match.use(bid)?.open(match.seats)),
    call: fact({}, (match) => match.use(poll)?.open({ voters: match.seats, candidates: match.seats })),
    ring: fact({ seat: seatRef(), in: int() }, (match, { seat, ...when }) =>
      match.timers.start('ring', { key: seat, ...when }),
    ),
  } as any,
  timers: {
    ring: { clock: 'match', seenBy: everyone, fire: (match: any, seat: string) => touchy(match, seat, 4) },
  } as any,
  amend: { 'vitals.hurt': (match: any, draft: any) => touchy(match, draft.target, 5) } as any,
  on: {
    'vitals.down'(match: any, { seat }: any) {
      match.use(tally)?.count(seat, 'falls')
      touchy(match, seat, 6)
    },
    'scores.given'(match: any, { seat, amount }: any) {
      match.use(tally)?.count(seat, 'best', amount)
      touchy(match, seat, 7)
    },
    'roster.left': (match: any, { seat }: any) => touchy(match, seat, 8),
  } as any,
  settle: {
    wokenBy: ['rows'],
    run(match: any) {
      for (const seat of match.seats) touchy(match, seat, 9)
    },
  } as any,
  setUp(match: any) {
    match.use(shells)?.fill('deck', ['amber', 'ink', 'amber', 'ink', 'ink'])
  },
} as any)

function set(match: any, seat: string, at: number): void {
  match.own.mood.of(seat).at = at
}
function touchy(match: any, seat: string, at: number): undefined {
  if (match.seating.has(seat) && match.own.mood.of(seat).at === at) bug()
  return undefined
}
const ownerOf = (of: string | undefined) => ({ all: false, seats: new Set(of === undefined ? [] : [of]) })
const sly = (isSly: boolean): false => (isSly ? bug() : false)
function bug(): never {
  throw new Error('fell over')
}

const ends = [mostAtTime, firstTo(9), longestHold('wins')]

/** The rulebook of a shape; nothing where its rules do not go together. */
export function bookOf(
  { with: names, rounds: how, ends: end, lateJoin = 'seat' }: BookShape,
  ...more: object[]
): any {
  const chosen = new Set<keyof typeof optional>(names)
  if (chosen.has('respawn')) chosen.delete('waves')
  if (chosen.has('zones')) chosen.delete('bells')
  if (chosen.has('meadow')) chosen.delete('fog')
  if (chosen.has('crews')) chosen.delete('keepers')
  if (chosen.has('idle')) chosen.delete('watchful')
  if (chosen.has('turns')) chosen.delete('together')
  if (!chosen.has('turns') && !chosen.has('together')) chosen.delete('reactions')
  const turn = chosen.has('turns') || chosen.has('together') ? [] : [turns({ steps: [act] })]
  const { count = 1 } = how as { readonly count?: number }
  const last = ends[end % ends.length] ?? mostAtTime
  const when = count > 1 ? [mostAtTime.decides('round'), mostRounds] : [last, mostAtTime]
  return defineRulebook({
    name: 'fuzzed',
    seats: { min: 2, max: 4 },
    rules: [
      roster({ grace: 2500, lateJoin, lateWindow: 1000 }),
      rounds(how),
      verdict({ when }),
      scores({ minScore: 0 }),
      vitals({ regenRate: 5, regenDelay: 900, healthSeen: chosen.has('fog') ? 'near' : 'side' }),
      ...[...chosen].map((name) => optional[name]),
      ...turn,
      gremlin,
      ...more,
    ],
  } as any)
}
