import { defineRulebook, seconds } from 'zinc-referee'
import { rounds, scores, turns, verdict } from 'zinc-referee/rules'
import { ebb } from './ebb.ts'
import { drift, storm } from './expansions.ts'
import { bid, letters, notebook, passing, post } from './letters.ts'
import { mail } from './mail.ts'

/** Three to five seats by the tide line. The most points win when the post has closed. Two expansions. */
export const ebbPost = defineRulebook({
  name: 'ebb-post',
  seats: { min: 3, max: 5 },
  rules: [
    rounds,
    turns({ steps: [post], turnTime: seconds(90) }),
    letters({ short: 'refuse' }),
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
