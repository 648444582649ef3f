import { expect, test } from 'vitest'
import {
  beginMatch,
  choice,
  defineRule,
  defineRulebook,
  int,
  minutes,
  owner,
  rowOf,
  seatRef,
  side,
} from 'zinc-referee'
import {
  areasOf,
  ballotOf,
  boostsOf,
  credit,
  gridOf,
  holds,
  idle,
  mostAtTime,
  pilesOf,
  reactions,
  respawn,
  rolesOf,
  rounds,
  scores,
  sealedOf,
  tasks,
  teams,
  turns,
  verdict,
  vitals,
  zones,
} from 'zinc-referee/rules'
import { auditSight, randomCrowd } from 'zinc-referee/testing'

const SEATS = ['otter', 'heron', 'vole', 'newt']
const bid = sealedOf('bid', int().between(0, 3), { otherwise: 0 })
const poll = ballotOf('poll')
const crews = rolesOf({ baker: {}, fox: { count: 2, camp: 'den', tellCamp: true } })
const shells = pilesOf(
  'shells',
  choice('amber', 'jade', 'ink'),
  { deck: 'deck', cloth: 'table', heap: 'top', row: 'open' },
  { refill: { deck: 'heap' }, leavers: 'heap' },
)
const pick = sealedOf('pick', rowOf(shells, 'cards'))
const meadow = areasOf({ near: 40, far: 60, every: 1, hintEvery: 2000 })
const charms = boostsOf({
  bell: { lasts: 4000, seenBy: side },
  veil: { lasts: 6000, seenBy: owner, onDown: 'keep' },
})

/** What a mode does with a rule: whatever is reported, at random. */
const drive = (needs: readonly object[], facts: object, more: object = {}): any =>
  defineRule({ name: 'drive', needs, facts, ...more } as any)
const nothing = { input: {} }
const blow = {
  hit: {
    input: { target: seatRef(), by: seatRef(), amount: int().between(1, 60) },
    hear: (match: any, hit: object) => match.use(vitals).hurt(hit),
  },
}

interface Case {
  readonly rules: readonly unknown[]
  /** The secrets that the audit must have varied. */
  readonly secrets: readonly string[]
  /** Those of them that nobody sees. */
  readonly also?: readonly string[]
}

/** By rule, a mode that makes the most of what it keeps secret. */
const cases: { readonly [rule: string]: Case } = {
  sealed: {
    rules: [
      bid({ whoSeen: 'nobody', closeWhenAll: false, time: 6000 }),
      drive([bid], { ask: { ...nothing, hear: (match: any) => match.use(bid).open(match.seats) } }),
    ],
    secrets: ['bid.seats.choice', 'bid.seats.chosen'],
    also: ['bid.seats.chosen'],
  },
  ballot: {
    rules: [
      poll({ whoSeen: 'nobody', ties: 'run-off', time: 8000, closeWhenAll: false }),
      drive([poll], {
        call: {
          ...nothing,
          hear: (match: any) => match.use(poll).open({ voters: match.seats, candidates: match.seats }),
        },
      }),
    ],
    secrets: ['poll.votes.for', 'poll.votes.voted'],
    also: ['poll.votes.voted'],
  },
  roles: {
    rules: [
      crews({ revealOnOut: true }),
      tasks({
        pretend: crews.camp('den'),
        list: [
          { kind: 'stave', need: 40 },
          { kind: 'hoop', need: 40, within: 30_000 },
        ],
        each: 2,
        places: ['mill', 'lock'],
      }),
      drive([crews, tasks], {
        swap: {
          input: { seat: seatRef(), other: seatRef() },
          hear: (match: any, { seat, other }: any) => match.use(crews).swap(seat, other),
        },
        work: {
          input: { seat: seatRef(), amount: int().between(1, 20) },
          hear(match: any, { seat, amount }: any) {
            const [task] = match.use(tasks).open(seat)
            return match.use(tasks).progress({ seat, task: task ?? 'none', amount })
          },
        },
      }),
    ],
    secrets: [
      'roles.seats.role',
      'tasks.rows.kind',
      'tasks.rows.done',
      'tasks.rows.place',
      'tasks.tally.done',
    ],
  },
  piles: {
    rules: [
      shells({ handMost: 3 }),
      pick({ leaverChoice: 'keep' }),
      drive(
        [shells, pick],
        {
          draw: {
            input: { seat: seatRef() },
            hear: (match: any, { seat }: any) => match.use(shells).draw({ seat, from: 'deck' }),
          },
          lay: {
            input: { seat: seatRef(), to: choice('cloth', 'heap', 'row') },
            hear(match: any, { seat, to }: any) {
              const cards = match
                .use(shells)
                .hand(seat)
                .map(({ id }: any) => id)
                .sort()
                .slice(0, 1)
              return match.use(shells).move({ seat, cards, from: 'hand', to })
            },
          },
          mix: {
            ...nothing,
            hear: (match: any) =>
              match.use(shells).mix(
                match
                  .use(shells)
                  .in('cloth')
                  .map(({ id }: any) => id),
              ),
          },
          gather: {
            ...nothing,
            hear(match: any) {
              const cards = match
                .use(shells)
                .in('row')
                .map(({ id }: any) => id)
              match.use(shells).move({ cards, from: 'row', to: 'deck' })
              match.use(shells).shuffle('deck')
            },
          },
          ask: { ...nothing, hear: (match: any) => match.use(pick).open(match.seats) },
        },
        {
          setUp(match: any) {
            match.use(shells).fill(
              'deck',
              Array.from({ length: 15 }, (_, n) => ['amber', 'jade', 'ink'][n % 3]),
            )
            match.use(shells).shuffle('deck')
          },
          discloses: [
            { secret: 'shells.cards.face', by: 'drive.lay', to: 'everyone', why: 'it lies open' },
            {
              secret: 'shells.cards',
              by: ['drive.draw', 'shells.shuffled'],
              to: 'everyone',
              why: 'the top is drawn',
            },
          ],
        },
      ),
    ],
    secrets: ['shells.cards.face'],
  },
  vitals: {
    rules: [
      teams({ count: 2 }),
      vitals({ healthSeen: 'side', shield: 30, armour: 300, regenRate: 5, regenDelay: 2000 }),
      respawn({
        after: 3000,
        places: [
          { name: 'mill', x: 0, y: 0 },
          { name: 'lock', x: 9, y: 9 },
        ],
        place: 'random',
        ask: true,
      }),
      scores,
      credit(),
      drive([vitals], {
        ...blow,
        sting: {
          input: { target: seatRef(), kind: choice('nettle', 'chill') },
          hear: (match: any, { target, kind }: any) =>
            match.use(vitals).afflict({ target, kind, amount: 3, every: 700, ticks: 5 }),
        },
      }),
    ],
    secrets: ['vitals.body.health', 'vitals.body.shield', 'vitals.afflictions.left', 'respawn.orders.place'],
  },
  boosts: {
    rules: [
      teams({ count: 2 }),
      vitals,
      charms,
      drive([charms, vitals], {
        ...blow,
        charm: {
          input: { seat: seatRef(), kind: choice('bell', 'veil') },
          hear: (match: any, given: object) => match.use(charms).give(given),
        },
      }),
    ],
    secrets: ['boosts.rows.kind', 'boosts.rows.until'],
  },
  scores: {
    rules: [
      scores({ ledgerSeen: 'nobody' }),
      drive([scores], {
        earn: {
          input: { seat: seatRef(), amount: int().between(0, 3) },
          hear: (match: any, given: object) => match.use(scores).give({ ...given, reason: 'earned' }),
        },
      }),
    ],
    secrets: ['scores.ledger.at', 'verdict.wishes.surrender'],
    also: ['scores.ledger.at'],
  },
  hints: {
    rules: [
      meadow,
      drive(
        [meadow],
        {
          swim: {
            input: { seat: seatRef(), x: int().between(0, 300), y: int().between(0, 300) },
            hear: (match: any, { seat, x, y }: any) => match.use(meadow).put(seat, { x, y }),
          },
          point: {
            input: { seat: seatRef(), at: seatRef() },
            hear: (match: any, { seat, at }: any) => match.use(meadow).point(seat, at),
          },
        },
        {
          discloses: ['areas.spots.x', 'areas.spots.y'].map((secret) => ({
            secret,
            by: ['time', 'drive.point'],
            to: 'everyone',
            why: 'a hint points there',
          })),
        },
      ),
    ],
    secrets: ['areas.hints.towards'],
  },
  areas: {
    rules: [
      teams({ count: 2 }),
      meadow,
      drive([meadow], {
        swim: {
          input: { seat: seatRef(), x: int().between(0, 120), y: int().between(0, 30) },
          hear: (match: any, { seat, x, y }: any) => match.use(meadow).put(seat, { x, y }),
        },
        drop: {
          input: { x: int().between(0, 120), kind: choice('crumb', 'reed') },
          hear: (match: any, { x, kind }: any) => void match.use(meadow).add(kind, { x, y: 5 }),
        },
        hide: {
          input: { seat: seatRef() },
          hear: (match: any, { seat }: any) => match.use(meadow).hide(seat, 10),
        },
      }),
    ],
    secrets: ['areas.spots.x', 'areas.things.kind'],
  },
}

const bookOf = (rules: readonly unknown[]): any =>
  defineRulebook({
    name: 'fair',
    seats: { min: 2, max: 4 },
    rules: [rounds({ length: minutes(5) }), verdict({ when: [mostAtTime] }), ...rules] as any,
  } as any)

const varied = new Set<string>()

test.each(Object.entries(cases))('what %s keeps secret shows in nothing that leaves', (_, each) => {
  const { rules, secrets, also = [] } = each
  const audit = auditSight(bookOf(rules), {
    seats: SEATS,
    crowd: () => randomCrowd('fair-2'),
    until: 60_000,
    checks: 12,
    comparisons: 200,
    also,
  })
  expect([audit.leaks, audit.faults]).toEqual([[], []])
  for (const [secret, { varied: times }] of Object.entries(audit.secrets)) if (times > 0) varied.add(secret)
  expect([...varied]).toEqual(expect.arrayContaining([...secrets]))
})

test('no built-in rule keeps a secret that is varied nowhere above', () => {
  const others = [
    gridOf('board', { width: 3, height: 3 }),
    holds,
    idle,
    reactions,
    turns,
    zones({ names: ['mill'] }),
  ]
  const rules = [...Object.values(cases).flatMap((each) => each.rules), ...others] as any[]
  const once = new Map(rules.map((rule) => [rule.name, rule]))
  once.delete('drive')
  const described: any = beginMatch(bookOf([...once.values()]), { seed: 'fair-1' }).describe()
  const secrets = described.rules.flatMap(({ name, state, varies = {} }: any) =>
    Object.entries(state).flatMap(([part, { cells }]: any) =>
      Object.entries(cells).flatMap(([cell, { kind, of, seenBy }]: any) =>
        ['everyone', 'nobody'].includes(seenBy) ||
        [kind, of?.kind].includes('row') ||
        varies[part]?.includes(cell) === false
          ? []
          : `${name}.${part}.${cell}`,
      ),
    ),
  )
  expect(secrets.filter((secret: string) => !varied.has(secret))).toEqual([])
})
