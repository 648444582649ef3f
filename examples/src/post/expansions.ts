import { defineRule, everyone, maybe, refuse, single } from 'zinc-referee'
import { turns } from 'zinc-referee/rules'
import { colour, letters, passing } from './letters.ts'
import { mail } from './mail.ts'

/** Storm. In each post there is a colour that cannot be passed. */
export const storm = defineRule({
  name: 'storm',
  needs: [turns, letters, passing],
  refusals: { stormy: 'No letter of this colour goes out in the storm. Choose another.' },
  discloses: [
    {
      secret: 'letters.cards.face',
      by: 'ebb.passed',
      to: 'everyone',
      why: 'who passes nothing may hold nothing but the stormy colour',
    },
  ],
  state: { sky: single({ colour: maybe(colour).seenBy(everyone) }) },
  setUp(match) {
    match.own.sky.colour = match.chance('sky').pick(colour.values)
  },
  amend: {
    'passing.take'(match, { choice }) {
      const { face } = match.use(letters).card(choice) ?? {}
      return face?.colour === match.own.sky.colour ? refuse('stormy') : undefined
    },
  },
  on: {
    'turns.cycle-ended'(match) {
      match.own.sky.colour = match.chance('sky').pick(colour.values)
    },
  },
})

/** Drift. What is laid goes onto the left neighbour's rack. */
export const drift = defineRule({
  name: 'drift',
  needs: [turns, mail],
  amend: {
    'mail.place'(match, letter) {
      const left = match.use(turns).next(letter.seat)
      if (left !== undefined) letter.redirect(left)
    },
  },
})
