import { defineRule, everyone, int, list, type Seat, seatRef } from 'zinc-referee'
import { scores, turns, verdict } from 'zinc-referee/rules'
import { allIn, bid, colour, letters, lowest, notebook, passing, sumOf } from './letters.ts'
import { mail } from './mail.ts'

const POSTS = 4

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
      why: 'the points tell what was bid',
    },
  ],
  events: {
    passed: { post: int().seenBy(everyone), losers: list(seatRef()).seenBy(everyone) },
    'seal-sold': { winners: list(seatRef()).seenBy(everyone), sum: int().seenBy(everyone) },
  },
  amend: {
    'passing.take': (match, { seat, choice }) => allIn(match.use(letters).hand(seat), [choice]),
    'bid.take': (match, { seat, choice }) => allIn(match.use(letters).hand(seat), choice),
  },
  on: {
    'turns.cycle-ending'(match, { cycle }) {
      if (cycle % 2 === 1) return
      match.use(turns).hold('ebb')
      match.use(passing).open(match.seats.filter((seat) => match.use(letters).hand(seat).length > 0))
    },
    'passing.revealed'(match, { number }) {
      const all = match.use(letters)
      const chosen = match.use(passing).choices()
      const gifts = chosen.flatMap(({ seat: from, choice }) => {
        const [to, letter] = [match.use(turns).next(from), all.card(choice)]
        return to && letter ? [{ from, to, cards: [choice], ...letter.face }] : []
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
      if (number * 2 < POSTS) match.use(turns).goOn('ebb')
      else match.use(bid).open(match.seats.filter((seat) => all.hand(seat).length > 0))
    },
    'bid.revealed'(match) {
      const all = match.use(letters)
      const worth = (ids: readonly string[]) => sumOf(ids.flatMap((id) => all.card(id) ?? []))
      const { seats, amount: sum } = match.use(bid).highest(worth)
      for (const { seat, choice } of match.use(bid).choices())
        all.move({ seat, cards: [...choice], from: 'hand', to: 'spent' })
      const winners = seats.length === 1 ? seats : []
      match.emit('seal-sold', { winners, sum })
      for (const seat of winners) match.use(scores).give({ seat, amount: 4, reason: 'wax-seal' })
      for (const about of colour.values) {
        const laid = (seat: Seat) => sumOf(all.in('rack', seat).filter(({ face }) => face.colour === about))
        for (const [seat, amount] of match.use(scores).majority(laid, [5, 2]))
          match.use(scores).give({ seat, amount, reason: about })
      }
      match.use(verdict).claim({ winners: match.use(scores).leaders(), reason: 'post-closed' })
    },
  },
})
