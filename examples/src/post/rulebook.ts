import { defineRule, defineRulebook, everyone, maybe, refuse, seconds, single } from 'zinc-referee'
import { rounds, scores, turns, verdict } from 'zinc-referee/rules'
import { ebb } from './ebb.ts'
import { bid, colour, letters, notebook, passing, post } from './letters.ts'
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
    'passing.take'(match, { seat, choice }) {
      const letter = match
        .use(letters)
        .hand(seat)
        .find(({ id }) => id === choice)
      return letter?.face.colour === match.own.sky.colour ? refuse('stormy') : undefined
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

/** Three to five seats by the tide line. The most points win when the post has closed. Two expansions. */
export const ebbPost = defineRulebook({
  name: 'ebb-post',
  seats: { min: 3, max: 5 },
  rules: [
    rounds,
    turns({ steps: [post], turnTime: seconds(90) }),
    letters,
    notebook,
    passing({ time: seconds(60) }),
    bid({ time: seconds(60) }),
    scores,
    verdict,
    mail,
    ebb,
  ],
  optional: [storm, drift],
})
