import type { ebbPost } from '@zinc-referee/examples'
import type { ViewFor } from 'zinc-referee'
import type { Face } from './letter.tsx'

/** What a viewer of Ebb Post sees. */
export type PostView = ViewFor<typeof ebbPost>

/** The letters of a hand or a rack that a viewer may read, by colour and value. */
export function lettersIn(view: PostView, place: 'hand' | 'rack', seat: string) {
  const cards = Object.entries(view.letters.cards).flatMap(([id, card]) =>
    card.place === place && card.holder === seat && card.face !== undefined ? [{ id, face: card.face }] : [],
  )
  return cards.sort((a, b) => orderOf(a.face) - orderOf(b.face))
}

const COLOURS = ['rust', 'moss', 'dusk', 'chalk', 'plum']
const orderOf = ({ colour, value }: Face): number => COLOURS.indexOf(colour) * 10 + value

/** What is known of a letter by its id, for words in buttons. */
export const faceOf = (view: PostView, id: string): Face | undefined => view.letters.cards[id]?.face
