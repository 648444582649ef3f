import { defineRule, everyone, refuse, rowOf, seatRef } from 'zinc-referee'
import { turns } from 'zinc-referee/rules'
import { allLetters, colour, letters, notebook, ofHand, post } from './letters.ts'

const MOST = 5

/** Letters are drawn, laid, swapped, peeked at and whispered about: two actions in each turn. */
export const mail = defineRule({
  name: 'mail',
  needs: [turns, letters, notebook],
  refusals: {
    'hand-is-full': 'Five letters are the most. Lay one first.',
    'sack-is-empty': 'The sack is empty. Lay, swap, peek or whisper.',
    'not-in-hand': 'That letter is not in your hand. Choose one that is.',
    'not-on-rack': 'That letter is not on your rack. Choose one that is.',
    'empty-hand': 'That hand is empty. Choose another.',
    'own-hand': 'That is your own hand. Choose another.',
  },
  discloses: [
    {
      secret: 'letters.cards.face',
      by: 'notebook.written',
      to: 'seat',
      why: 'what a seat has read, heard, passed or got, it may look up',
    },
  ],
  events: {
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
        if (match.use(letters).in('sack').length === 0) return refuse('sack-is-empty')
        return match.use(letters).draw({ seat, from: 'sack' })
      },
    },
    lay: {
      when: post,
      offered: true,
      input: { letter: rowOf(letters, 'cards') },
      options: (match, seat) =>
        match
          .use(letters)
          .hand(seat)
          .map(({ id }) => ({ letter: id })),
      decide: (match, seat, { letter }) => match.resolve('place', { seat, letter, target: seat }),
    },
    swap: {
      when: post,
      offered: true,
      input: { laid: rowOf(letters, 'cards'), held: rowOf(letters, 'cards') },
      options: (match, seat) =>
        match
          .use(letters)
          .in('rack', seat)
          .flatMap(({ id }) =>
            match
              .use(letters)
              .hand(seat)
              .map((held) => ({ laid: id, held: held.id })),
          ),
      decide(match, seat, { laid, held }) {
        const all = match.use(letters)
        if (ofHand(all.hand(seat), [held]) === undefined) return refuse('not-in-hand')
        if (ofHand(all.in('rack', seat), [laid]) === undefined) return refuse('not-on-rack')
        const taken = all.move({ seat, cards: [laid], from: 'rack', to: 'hand' })
        return taken.ok ? all.move({ seat, cards: [held], from: 'hand', to: 'rack' }) : taken
      },
    },
    peek: {
      when: post,
      offered: true,
      input: { whose: seatRef() },
      options: (match, seat) =>
        match
          .use(turns)
          .others(seat)
          .map((whose) => ({ whose })),
      decide(match, seat, { whose }) {
        if (whose === seat) return refuse('own-hand')
        const letter = match.chance('peek').pick(match.use(letters).hand(whose))
        if (letter === undefined) return refuse('empty-hand')
        match.use(letters).peek(seat, [letter.id])
        match.use(notebook).write(seat, { about: 'peek', whose, ...letter.face })
        match.emit('peeked', { seat, whose })
      },
    },
    whisper: {
      when: post,
      offered: true,
      input: { to: seatRef(), colour },
      options: (match, seat) =>
        match
          .use(turns)
          .others(seat)
          .flatMap((to) => colour.values.map((each) => ({ to, colour: each }))),
      decide(match, seat, { to, colour: about }) {
        if (to === seat) return refuse('own-hand')
        const held = match
          .use(letters)
          .hand(seat)
          .some(({ face }) => face.colour === about)
        match.use(notebook).write(to, { about: 'whisper', whose: seat, colour: about, value: held ? 1 : 0 })
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
