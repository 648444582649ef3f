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
  owner,
  perSeat,
  refuse,
  seatRef,
  seconds,
  single,
  table,
} from 'zinc-referee'
import { rounds, sealedOf, turnStep, turns, verdict } from 'zinc-referee/rules'
import { fields, setting, whole } from 'zinc-referee/settings'
import { beach } from './beach.ts'

const kind = choice('swan', 'duck', 'river', 'pearl', 'zebra', 'pea')
const place = int().between(1, beach.places)
const play = turnStep('play')
/** While the tide is in, everyone secretly names one place to swap with. */
export const naming = sealedOf('naming', place, { offered: true })

const shape = declareRule({
  name: 'dip',
  needs: [turns, naming, verdict],
  settings: fields({
    /** Number of mussels that a list asks for, of each of its two kinds. */
    ofEach: setting(whole({ min: 1, max: 4 }), 2),
    /** Time that a peek lasts and a lifted mussel lies open, in ms. */
    peek: setting(whole(), seconds(3)),
    open: setting(whole(), seconds(2)),
  }),
  state: {
    // Everyone knows a mussel's place. A seat that peeks knows its kind, and so does everyone while it lies open.
    mussels: table({ place: place.seenBy(everyone), kind, open: flag(false), peeker: maybe(seatRef()) })
      .indexedBy('place')
      .seenWhen({ kind: ({ open, peeker }) => (open ? everyone : only(peeker)) }),
    lists: perSeat({ wishes: list(kind, []).seenBy(owner), found: list(kind, []).seenBy(everyone) }),
    days: single({ coming: list(choice('calm', 'bell'), []), gone: int(0).seenBy(everyone) }),
  },
  events: {
    peeked: { seat: seatRef().seenBy(everyone), place: place.seenBy(everyone) },
    lifted: {
      seat: seatRef().seenBy(everyone),
      place: place.seenBy(everyone),
      kind: kind.seenBy(everyone),
      kept: flag().seenBy(everyone),
    },
    mixed: { places: list(place).seenBy(everyone) },
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

/** Swaps the mussels at the named places, unseen, so that none can be followed. Then the days begin again. */
function goOut(match: Match) {
  const named = new Set(
    match
      .use(naming)
      .choices()
      .map(({ choice: spot }) => spot),
  )
  const swapped = [...named].flatMap((spot) => at(match, spot) ?? [])
  const spots = swapped.map((mussel) => mussel.place)
  const mixed = match.chance('tide').shuffle(spots)
  for (const [n, mussel] of swapped.entries()) {
    mussel.open = false
    mussel.peeker = undefined
    mussel.place = mixed[n] ?? mussel.place
    match.own.mussels.renew(mussel.id)
  }
  match.emit('mixed', { places: spots })
  match.use(turns).goOn('tide')
  dealDays(match)
}

export const dip = shape.does({
  refusals: {
    'nothing-there': 'No mussel lies there. Choose another place.',
    'lies-open': 'That mussel lies open. Choose a closed one.',
  },
  discloses: [
    { secret: 'dip.mussels.kind', by: 'dip.lifted', to: 'everyone', why: 'a lifted mussel is shown to all' },
    {
      secret: 'dip.lists.wishes',
      by: 'dip.lifted',
      to: 'everyone',
      why: 'it shows if its finder wished for it',
    },
  ],
  setUp(match) {
    const kinds = match.chance('mussels').shuffle(kind.values.flatMap((each) => [each, each, each, each]))
    for (const [n, each] of kinds.entries()) match.own.mussels.add({ place: n + 1, kind: each })
    const wishes = match.chance('wishes').shuffle(kind.values)
    for (const [n, seat] of match.seats.entries())
      match.own.lists.of(seat).wishes = [...wishes, ...wishes].slice(n, n + 2) // so no kind stands on more than two lists
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
    /** Everyone sees it for two seconds. It is yours if it is on your list; otherwise it turns back. */
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
    'naming.take': (match, { choice: spot }) => (at(match, spot) ? undefined : refuse('nothing-there')),
  },
  on: {
    /** A day passes after every turn. At the bell, the tide comes in. */
    'turns.ended'(match) {
      const [day, ...coming] = match.own.days.coming
      match.own.days.coming = coming
      match.own.days.gone += 1
      if (day !== 'bell') return
      match.use(turns).hold('tide')
      match.use(naming).open(match.seats)
    },
    'naming.revealed': goOut,
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
