import { choice, json, list, refuse, rowOf } from 'zinc-referee'
import { type Card, notebookOf, pilesOf, sealedOf, turnStep } from 'zinc-referee/rules'
import { fields, oneOf, whole, word } from 'zinc-referee/settings'

export const colour = choice('rust', 'moss', 'dusk', 'chalk', 'plum')

/** A letter as its face says. */
export const allLetters = colour.values.flatMap((each) =>
  [1, 2, 3, 4, 5, 6].map((value) => ({ colour: each, value })),
)

/** The sack, hands of up to five, an open rack for each seat, and what has been bid. */
export const letters = pilesOf(
  'letters',
  json(fields({ colour: oneOf(...colour.values), value: whole({ min: 1, max: 6 }) })),
  { sack: 'deck', rack: 'rack', spent: 'open' },
)

/** What a seat knows of letters of others. A whisper has the value 1 if there is one of that colour, else 0. */
export const notebook = notebookOf(
  fields({
    about: oneOf('peek', 'whisper', 'passed', 'got'),
    whose: word,
    colour: oneOf(...colour.values),
    value: whole({ min: 0, max: 6 }),
  }),
)

/** Two actions in each turn. */
export const post = turnStep('post', { budget: 2 })

/** At ebb, a letter for one's left neighbour. Nobody is shown it but the two. */
export const passing = sealedOf('passing', rowOf(letters, 'cards'), { revealedTo: 'nobody' })

/** Letters of the hand for the wax seal. */
export const bid = sealedOf('bid', list(rowOf(letters, 'cards')).between(0, 10), { revealedTo: 'nobody' })

type Letter = Card<{ readonly value: number }>
/** Refuses ids that are not among the letters of a hand. */
export const allIn = (hand: readonly Letter[], ids: readonly string[]) =>
  ids.every((id) => hand.some((letter) => letter.id === id)) ? undefined : refuse('not-held')
export const sumOf = (all: readonly Letter[]): number => all.reduce((sum, { face }) => sum + face.value, 0)
export const lowest = <L extends Letter>([first, ...others]: readonly L[]): L | undefined =>
  first && others.reduce((least, each) => (each.face.value < least.face.value ? each : least), first)
