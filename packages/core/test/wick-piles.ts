import { choice, defineRule, defineRulebook, flag, int, list, maybe, seatRef, text } from 'zinc-referee'
import { pilesOf, roster } from 'zinc-referee/rules'
import { playMatch } from 'zinc-referee/testing'

export const FACES = ['amber', 'rose', 'jade', 'ink'] as const
export const face = choice(...FACES)
export const wicks = pilesOf(
  'wicks',
  face,
  { deck: 'deck', table: 'table', crates: 'open', burnt: 'top' },
  { refill: { deck: 'burnt' } },
)
export const somewhere = choice('deck', 'table', 'crates', 'burnt', 'hand', 'aside')
export const SEATS = ['otter', 'heron', 'vole']

/** Everything that piles do can be set off from outside. */
export const hand = defineRule({
  name: 'hand',
  needs: [wicks, roster],
  facts: {
    fill: {
      input: { place: somewhere, faces: list(face) },
      handle: (match, { place, faces }) => match.use(wicks).fill(place, faces),
    },
    shuffle: { input: { place: somewhere }, handle: (match, { place }) => match.use(wicks).shuffle(place) },
    draw: {
      input: { seat: seatRef(), count: int(1) },
      handle: (match, { seat, count }) => match.use(wicks).draw({ seat, from: 'deck', count }),
    },
    deal: { input: { count: int() }, handle: (match, { count }) => match.use(wicks).deal('deck', count) },
    move: {
      input: {
        seat: maybe(seatRef()),
        cards: list(text()),
        from: somewhere,
        to: somewhere,
        under: flag(false),
      },
      handle: (match, given) => match.use(wicks).move(given),
    },
    peek: {
      input: { seat: seatRef(), cards: list(text()), ms: maybe(int()) },
      handle: (match, { seat, cards, ms }) => match.use(wicks).peek(seat, cards, ms),
    },
    turn: {
      input: { card: text(), up: flag(true), ms: maybe(int()) },
      handle: (match, { card, up, ms }) => match.use(wicks).turn(card, up, ms),
    },
    mix: { input: { cards: list(text()) }, handle: (match, { cards }) => match.use(wicks).mix(cards) },
    /** Through an open place, within one step. */
    through: {
      input: { card: text() },
      handle(match, { card }) {
        match.use(wicks).move({ cards: [card], from: 'deck', to: 'crates' })
        return match.use(wicks).move({ cards: [card], from: 'crates', to: 'deck' })
      },
    },
    out: {
      input: { seat: seatRef() },
      handle: (match, { seat }) => match.use(roster).sideline(seat, 'home'),
    },
  },
})
export const book = defineRulebook({ name: 'wicks', seats: { min: 2, max: 4 }, rules: [wicks, hand] })

export function laid(
  faces: readonly (typeof FACES)[number][] = ['amber', 'rose', 'jade', 'ink'],
  settings: object = {},
) {
  const { match } = playMatch(book, SEATS, { settings: { wicks: settings } })
  match.report('hand.fill', { place: 'deck', faces: [...faces] })
  const rows = () => match.state.wicks.cards.all()
  const at = (place: string, holder?: string) =>
    rows()
      .filter((row) => row.place === place && row.holder === holder)
      .sort((a, b) => a.at - b.at)
  return {
    match,
    at,
    cards: (viewer: string) => match.view(viewer).wicks.cards,
    seen: (viewer: string) =>
      Object.values(match.view(viewer).wicks.cards)
        .map((card) => card.face ?? '?')
        .sort(),
    draw: (seat: string, count = 1) => match.report('hand.draw', { seat, count }),
    move: (
      cards: readonly { id: string }[],
      from: 'deck' | 'table' | 'crates' | 'burnt' | 'hand',
      to: typeof from | 'aside',
      seat?: string,
    ) =>
      match.report('hand.move', {
        cards: cards.map(({ id }) => id),
        from,
        to,
        ...(seat !== undefined && { seat }),
      }),
    counts: () => match.view('spectator').wicks.counts.of,
    inHand: (seat: string) => match.view('spectator').wicks.hands[seat]?.count,
    faces: (place: string, holder?: string) => at(place, holder).map((row) => row.face),
  }
}
