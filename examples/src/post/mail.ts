import { defineRule, everyone, refuse, rowOf, seatRef } from 'zinc-referee'
import { turns } from 'zinc-referee/rules'
import { allLetters, colour, letters, notebook, post } from './letters.ts'

const MOST = 5

/** Letters are drawn, laid, swapped, peeked at and whispered about: two actions in each turn. */
export const mail = defineRule({
  name: 'mail',
  needs: [turns, letters, notebook],
  refusals: {
    'hand-is-full': 'Five letters are the most. Lay one first.',
    'same-letter': 'A swap takes two letters: one of your rack, one of your hand.',
    'no-such-hand': 'That is your own hand, or an empty one. Choose another.',
    'nobody-else': 'Choose another seat that is still at the tide line.',
  },
  discloses: [
    {
      secret: 'letters.cards.face',
      by: 'notebook.written',
      to: 'seat',
      why: 'what one knew, one may look up',
    },
  ],
  events: {
    /** A letter was drawn in a turn, not dealt. */
    drew: { seat: seatRef().seenBy(everyone) },
    peeked: { seat: seatRef().seenBy(everyone), whose: seatRef().seenBy(everyone) },
    whispered: { seat: seatRef().seenBy(everyone), to: seatRef().seenBy(everyone) },
  },
  drafts: {
    /** A letter of the hand goes onto the rack of `target`. */
    place: { seat: seatRef(), letter: rowOf(letters, 'cards'), target: seatRef() },
  },
  setUp(match) {
    match.use(letters).fill('sack', allLetters)
    match.use(letters).shuffle('sack')
    match.use(letters).deal('sack', 4)
  },
  apply: {
    place: (match, { seat, letter, target }) =>
      match.use(letters).move({ seat, toSeat: target, cards: [letter], from: 'hand', to: 'rack' }),
  },
  actions: {
    draw: {
      when: post,
      offered: true,
      input: {},
      decide(match, seat) {
        if (match.use(letters).hand(seat).length >= MOST) return refuse('hand-is-full')
        match.emit('drew', { seat })
        return match.use(letters).draw({ seat, from: 'sack' })
      },
    },
    lay: {
      when: post,
      offered: true,
      input: { letter: rowOf(letters, 'cards') },
      decide: (match, seat, { letter }) => match.resolve('place', { seat, letter, target: seat }),
    },
    swap: {
      when: post,
      offered: true,
      input: { laid: rowOf(letters, 'cards'), held: rowOf(letters, 'cards') },
      decide(match, seat, { laid, held }) {
        if (laid === held) return refuse('same-letter')
        const taken = match.use(letters).move({ seat, cards: [laid], from: 'rack', to: 'hand' })
        return taken.ok ? match.use(letters).move({ seat, cards: [held], from: 'hand', to: 'rack' }) : taken
      },
    },
    peek: {
      when: post,
      offered: true,
      input: { whose: seatRef() },
      decide(match, seat, { whose }) {
        const letter = match.chance('peek').pick(match.use(letters).hand(whose))
        if (whose === seat || letter === undefined) return refuse('no-such-hand')
        match.use(letters).peek(seat, [letter.id])
        match.use(notebook).write(seat, { about: 'peek', whose, ...letter.face })
        match.emit('peeked', { seat, whose })
      },
    },
    whisper: {
      when: post,
      offered: true,
      input: { to: seatRef(), colour },
      decide(match, seat, { to, colour: about }) {
        if (!match.use(turns).others(seat).includes(to)) return refuse('nobody-else')
        const hand = match.use(letters).hand(seat)
        const value = hand.some(({ face }) => face.colour === about) ? 1 : 0
        match.use(notebook).write(to, { about: 'whisper', whose: seat, colour: about, value })
        match.emit('whispered', { seat, to })
      },
    },
  },
  on: {
    // A peek lasts until the post is over. The notebook keeps what was seen.
    'turns.cycle-ending'(match) {
      for (const seat of match.seats) match.use(letters).endPeek(seat)
    },
  },
})
