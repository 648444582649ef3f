import { defineRule, everyone, int, list, refuse, type Seat, seatRef } from 'zinc-referee'
import { scores, turns, verdict } from 'zinc-referee/rules'
import { bid, colour, letters, lowest, notebook, ofHand, passing, sumOf } from './letters.ts'
import { mail } from './mail.ts'

const EBB = 'ebb'
const POSTS = 4
const SEAL = 4
const PRIZES = [5, 2]

/**
 * At ebb, after every second post, each passes a letter to the left. After the last, letters are bid for the wax seal,
 * and racks are paid colour by colour.
 */
export const ebb = defineRule({
  name: 'ebb',
  needs: [turns, letters, notebook, passing, bid, scores, verdict, mail],
  refusals: { 'not-held': 'That letter is not in your hand. Choose letters that are.' },
  discloses: [
    {
      secret: 'letters.cards.face',
      by: 'ebb.seal-sold',
      to: 'everyone',
      why: 'the seal and the points tell what bids were worth',
    },
  ],
  events: {
    passed: { post: int().seenBy(everyone), losers: list(seatRef()).seenBy(everyone) },
    'seal-sold': { winners: list(seatRef()).seenBy(everyone), sum: int().seenBy(everyone) },
  },
  amend: {
    'passing.take': (match, { seat, choice }) =>
      ofHand(match.use(letters).hand(seat), [choice]) === undefined ? refuse('not-held') : undefined,
    'bid.take': (match, { seat, choice }) =>
      ofHand(match.use(letters).hand(seat), choice) === undefined ? refuse('not-held') : undefined,
  },
  on: {
    'turns.cycle-ending'(match, { cycle }) {
      if (cycle % 2 === 1) return
      match.use(turns).hold(EBB)
      match.use(passing).open(match.seats.filter((seat) => match.use(letters).hand(seat).length > 0))
    },
    'passing.revealed'(match, { number }) {
      const all = match.use(letters)
      const gifts = match
        .use(passing)
        .choices()
        .flatMap(({ seat: from, choice }) => {
          const to = match.use(turns).next(from)
          const [letter] = ofHand(all.hand(from), [choice]) ?? []
          return to === undefined || letter === undefined
            ? []
            : [{ from, to, cards: [choice], ...letter.face }]
        })
      all.pass(gifts)
      for (const { from, to, colour: about, value } of gifts) {
        match.use(notebook).write(from, { about: 'passed', whose: to, colour: about, value })
        match.use(notebook).write(to, { about: 'got', whose: from, colour: about, value })
      }
      const losers = match.seats.filter((seat) => !gifts.some(({ from }) => from === seat))
      for (const seat of losers) {
        const lost = lowest(all.in('rack', seat))
        if (lost !== undefined) all.move({ seat, cards: [lost.id], from: 'rack', to: 'spent' })
      }
      match.emit('passed', { post: number * 2, losers })
      if (number * 2 < POSTS) match.use(turns).goOn(EBB)
      else match.use(bid).open(match.seats.filter((seat) => all.hand(seat).length > 0))
    },
    'bid.revealed'(match) {
      const all = match.use(letters)
      const bids = new Map<Seat, number>()
      for (const { seat, choice } of match.use(bid).choices()) {
        bids.set(seat, sumOf(ofHand(all.hand(seat), choice) ?? []))
        all.move({ seat, cards: [...choice], from: 'hand', to: 'spent' })
      }
      const sum = Math.max(0, ...bids.values())
      const best = [...bids].filter(([, each]) => each === sum && sum > 0).map(([seat]) => seat)
      const winners = best.length === 1 ? best : []
      match.emit('seal-sold', { winners, sum })
      for (const seat of winners) match.use(scores).give({ seat, amount: SEAL, reason: 'wax-seal' })
      for (const about of colour.values) {
        const laid = (seat: Seat) => sumOf(all.in('rack', seat).filter(({ face }) => face.colour === about))
        for (const [seat, amount] of match.use(scores).majority(laid, PRIZES))
          match.use(scores).give({ seat, amount, reason: about })
      }
      const first = match
        .use(scores)
        .standings()
        .filter(({ rank }) => rank === 1)
      match.use(verdict).claim({ winners: first.map(({ seat }) => seat), reason: 'post-closed' })
    },
  },
})
