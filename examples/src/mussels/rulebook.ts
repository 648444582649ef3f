import {
  choice,
  declareRule,
  defineRulebook,
  everyone,
  flag,
  int,
  list,
  type MatchOf,
  maybe,
  only,
  perSeat,
  refuse,
  type Seat,
  seatRef,
  seconds,
  single,
  table,
} from 'zinc-referee'
import { rounds, sealedOf, turnStep, turns, verdict } from 'zinc-referee/rules'
import { fields, setting, whole } from 'zinc-referee/settings'
import { beach } from './beach.ts'

const kind = choice('swan', 'duck', 'river', 'pearl', 'zebra', 'pea', 'horse', 'quilt')
const place = int().between(1, beach.places)
const play = turnStep('play')
/** While the tide is in, everyone secretly names two places to swap. Nobody is shown which. */
export const naming = sealedOf('naming', list(place).between(2, 2), { revealedTo: 'nobody' })

const shape = declareRule({
  name: 'dip',
  needs: [turns, naming, verdict],
  settings: fields({
    /** Number of mussels that a list asks for, of each of its two kinds. */
    ofEach: setting(whole({ min: 1, max: 3 }), 2),
    /** Time that a peek lasts and a lifted mussel lies open, in ms. */
    peek: setting(whole(), seconds(3)),
    open: setting(whole(), seconds(2)),
  }),
  state: {
    // Everyone knows a mussel's place. A seat that peeks knows its kind, and so does everyone while it lies open.
    mussels: table({ place: place.seenBy(everyone), kind, open: flag(false), peeker: maybe(seatRef()) })
      .indexedBy('place')
      .seenWhen({ kind: ({ open, peeker }) => (open ? everyone : only(peeker)) }),
    lists: perSeat({
      wishes: list(kind, []),
      /** The bout is over, and everyone sees what it was looking for. */
      shown: flag(false),
      found: list(kind, []).seenBy(everyone),
      /** It has lifted what was not its own, and names nothing at the next tide. */
      silent: flag(false).seenBy(everyone),
    }).seenWhen({ wishes: ({ id, shown }) => (shown ? everyone : only(id)) }),
    days: single({
      coming: list(choice('calm', 'bell'), []),
      gone: int(0).seenBy(everyone),
      starter: maybe(seatRef()),
    }),
  },
  events: {
    peeked: { seat: seatRef().seenBy(everyone), place: place.seenBy(everyone) },
    lifted: {
      seat: seatRef().seenBy(everyone),
      place: place.seenBy(everyone),
      kind: kind.seenBy(everyone),
      kept: flag().seenBy(everyone),
    },
    /** The tide is out again. Anything may lie anywhere. */
    mixed: {},
  },
  timers: ['hide', 'turn-back'],
})
type Match = MatchOf<typeof shape>

const at = (match: Match, spot: number) => match.own.mussels.where({ place: spot })[0]
const places = (match: Match) => match.own.mussels.all().map((mussel) => ({ place: mussel.place }))

/** Returns the kinds that a seat's list still asks for. */
function missing(match: Match, seat: string) {
  const { wishes, found } = match.own.lists.of(seat)
  return wishes.filter((wish) => found.filter((each) => each === wish).length < match.settings.ofEach)
}

/** Makes a deck of five calm days and the bell. */
function dealDays(match: Match) {
  match.own.days.coming = match.chance('days').shuffle(['calm', 'calm', 'calm', 'calm', 'calm', 'bell'])
  match.own.days.gone = 0
}

/** The seats in their order from the one that began the bout. */
function fromStarter(match: Match): readonly Seat[] {
  const first = Math.max(0, match.seats.indexOf(match.own.days.starter ?? ''))
  return [...match.seats.slice(first), ...match.seats.slice(0, first)]
}

/** What lies at the places that were named is swapped, seat by seat. Nothing that anybody sees has changed. */
function goOut(match: Match) {
  const named = match.use(naming).choices()
  for (const seat of fromStarter(match)) {
    const [one = 0, other = 0] = named.find((each) => each.seat === seat)?.choice ?? []
    const [a, b] = [at(match, one), at(match, other)]
    if (a !== undefined && b !== undefined) [a.kind, b.kind] = [b.kind, a.kind]
    match.own.lists.of(seat).silent = false
  }
  for (const mussel of match.own.mussels.all()) {
    mussel.open = false
    mussel.peeker = undefined
  }
  match.emit('mixed', {})
  match.use(turns).goOn('tide')
  dealDays(match)
}

export const dip = shape.does({
  refusals: {
    'nothing-there': 'No mussel lies there. Choose another place.',
    'one-place': 'A swap needs two places. Name two that differ.',
    'lies-open': 'That mussel lies open. Choose a closed one.',
  },
  discloses: [
    ...['dip.mussels.kind', 'naming.seats.choice'].map((secret) => ({
      secret,
      by: 'dip.peek',
      to: 'asker',
      why: 'who peeks sees what the tide has put there',
    })),
    {
      secret: 'naming.seats.choice',
      by: ['dip.lifted', 'verdict.reached'],
      to: 'everyone',
      why: 'what was swapped is seen where it lies now',
    },
    { secret: 'dip.mussels.kind', by: 'dip.lifted', to: 'everyone', why: 'a lifted mussel is shown to all' },
    {
      secret: 'dip.lists.wishes',
      by: 'dip.lifted',
      to: 'everyone',
      why: 'it shows if its finder wished for it',
    },
    {
      secret: 'dip.lists.wishes',
      by: 'verdict.reached',
      to: 'everyone',
      why: 'at the end all lists are shown',
    },
    {
      secret: 'dip.mussels.kind',
      by: 'verdict.reached',
      to: 'everyone',
      why: 'at the end all mussels lie open',
    },
  ],
  setUp(match) {
    const kinds = match.chance('mussels').shuffle(kind.values.flatMap((each) => [each, each, each]))
    for (const [n, each] of kinds.entries()) match.own.mussels.add({ place: n + 1, kind: each })
    const wishes = match.chance('wishes').shuffle(kind.values)
    for (const [n, seat] of match.seats.entries())
      match.own.lists.of(seat).wishes = wishes.slice(2 * n, 2 * n + 2)
    dealDays(match)
  },
  actions: {
    /** You alone see it, for three seconds. */
    peek: {
      when: play,
      offered: true,
      input: { place },
      options: places,
      decide(match, seat, { place: spot }) {
        const mussel = at(match, spot)
        if (!mussel) return refuse('nothing-there')
        if (mussel.open) return refuse('lies-open')
        mussel.peeker = seat
        match.timers.start('hide', { key: mussel.id, in: match.settings.peek })
        match.emit('peeked', { seat, place: spot })
      },
    },
    /** Everyone sees it for two seconds. It is yours if it is on your list; otherwise it turns back, at a price. */
    lift: {
      when: play,
      offered: true,
      input: { place },
      options: places,
      decide(match, seat, { place: spot }) {
        const mussel = at(match, spot)
        if (!mussel) return refuse('nothing-there')
        const kept = missing(match, seat).includes(mussel.kind)
        match.emit('lifted', { seat, place: spot, kind: mussel.kind, kept })
        if (kept) {
          const list = match.own.lists.of(seat)
          list.found = [...list.found, mussel.kind]
          match.own.mussels.remove(mussel.id)
          return
        }
        match.own.lists.of(seat).silent = true
        mussel.open = true
        match.timers.start('turn-back', { key: mussel.id, in: match.settings.open })
      },
    },
  },
  timers: {
    hide: {
      band: 'lapse',
      fire(match, id) {
        const mussel = match.own.mussels.get(id)
        if (mussel) mussel.peeker = undefined
      },
    },
    'turn-back': {
      band: 'lapse',
      fire(match, id) {
        const mussel = match.own.mussels.get(id)
        if (mussel) mussel.open = false
      },
    },
  },
  amend: {
    'naming.take'(match, { choice: [one = 0, other = 0] }) {
      if (one === other) return refuse('one-place')
      return at(match, one) && at(match, other) ? undefined : refuse('nothing-there')
    },
  },
  on: {
    /** A day passes after every turn. At the bell, the tide comes in. */
    'turns.ended'(match, { seat }) {
      match.own.days.starter ??= seat
      const [day, ...coming] = match.own.days.coming
      match.own.days.coming = coming
      match.own.days.gone += 1
      if (day !== 'bell') return
      match.use(turns).hold('tide')
      match.use(naming).open(match.seats.filter((each) => !match.own.lists.of(each).silent))
    },
    'naming.revealed': (match) => goOut(match),
    'verdict.reached'(match) {
      for (const seat of match.seats) match.own.lists.of(seat).shown = true
      for (const mussel of match.own.mussels.all()) {
        match.timers.cancel('turn-back', mussel.id)
        mussel.open = true
      }
    },
  },
  settle: {
    tier: 'verdict',
    wokenBy: ['lists'],
    /** The first seat to fill its list wins. */
    run(match) {
      const winners = match.seats.filter(
        (seat) => match.own.lists.of(seat).wishes.length > 0 && missing(match, seat).length === 0,
      )
      if (winners.length > 0) match.use(verdict).claim({ winners, reason: 'list-filled' })
    },
  },
})

/** Two to four seats dip for mussels that lie face down. Each has a secret list of two kinds. */
export const musselDip = defineRulebook({
  name: 'mussel-dip',
  seats: { min: 2, max: 4 },
  rules: [
    rounds,
    turns({ steps: [play], turnTime: seconds(30) }),
    naming({ time: seconds(20) }),
    verdict({}),
    dip,
  ],
})
