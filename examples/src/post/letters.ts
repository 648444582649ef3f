import { choice, json, list, rowOf } from 'zinc-referee'
import { notebookOf, pilesOf, sealedOf, turnStep } from 'zinc-referee/rules'
import { fields, oneOf, whole, word } from 'zinc-referee/settings'

const colours = ['rust', 'moss', 'dusk', 'chalk', 'plum'] as const
export const colour = choice(...colours)
export const values = [1, 2, 3, 4, 5, 6] as const

/** A letter as its face says. */
export const allLetters = colours.flatMap((each) => values.map((value) => ({ colour: each, value })))

/** The sack, hands of up to five, an open rack for each seat, and what has been bid. */
export const letters = pilesOf(
  'letters',
  json(fields({ colour: oneOf(...colours), value: whole({ min: 1, max: 6 }) })),
  { sack: 'deck', rack: 'rack', spent: 'open' },
)

/** What a seat knows of letters of others. A whisper has the value 1 if there is one of that colour, else 0. */
export const notebook = notebookOf(
  fields({
    about: oneOf('peek', 'whisper', 'passed', 'got'),
    whose: word,
    colour: oneOf(...colours),
    value: whole({ min: 0, max: 6 }),
  }),
)

/** Two actions in each turn. */
export const post = turnStep('post', { budget: 2 })

/** At ebb, a letter for one's left neighbour. Nobody is shown it but the two. */
export const passing = sealedOf('passing', rowOf(letters, 'cards'), { revealedTo: 'nobody' })

/** Letters of the hand for the wax seal. */
export const bid = sealedOf('bid', list(rowOf(letters, 'cards')).between(0, 10), { revealedTo: 'nobody' })

interface Letter {
  readonly value: number
}
/** The letters of a hand among these ids, or nothing if one is not in it. */
export const ofHand = <C extends { readonly id: string }>(hand: readonly C[], ids: readonly string[]) => {
  const chosen = hand.filter(({ id }) => ids.includes(id))
  return chosen.length === ids.length ? chosen : undefined
}
export const sumOf = (cards: readonly { readonly face: Letter }[]): number =>
  cards.reduce((sum, { face }) => sum + face.value, 0)
export const lowest = <C extends { readonly face: Letter }>(cards: readonly C[]): C | undefined =>
  [...cards].sort((a, b) => a.face.value - b.face.value)[0]
