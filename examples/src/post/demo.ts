import { type Chance, chanceFrom, isMatchOf, type MatchFor, type Seat } from 'zinc-referee'
import type { Demo } from 'zinc-referee/testing'
import { colour } from './letters.ts'
import { ebbPost } from './rulebook.ts'

type Post = MatchFor<typeof ebbPost>
const THOUGHT = 2500

const handOf = (match: Post, seat: Seat) => match.state.letters.cards.where({ place: 'hand', holder: seat })
const rackOf = (match: Post, seat: Seat) => match.state.letters.cards.where({ place: 'rack', holder: seat })
const laid = (match: Post, seat: Seat, about: string): number =>
  rackOf(match, seat)
    .filter(({ face }) => face.colour === about)
    .reduce((sum, { face }) => sum + face.value, 0)

/** A bot that lays what adds to its best colours, draws when it is short, and now and then peeks or whispers. */
function play(match: Post, chance: Chance, seat: Seat) {
  const mood = chance.int(1, 10)
  const peek = chance.pick(match.options(seat, 'mail.peek'))
  const whisper = chance.pick(match.options(seat, 'mail.whisper'))
  if (mood === 1 && peek !== undefined) return match.submit(seat, 'mail.peek', peek)
  if (mood === 2 && whisper !== undefined) return match.submit(seat, 'mail.whisper', whisper)
  const worth = ({ letter }: { readonly letter: string }): number => {
    const face = handOf(match, seat).find(({ id }) => id === letter)?.face
    return face === undefined ? 0 : face.value * 2 + laid(match, seat, face.colour)
  }
  const [best] = [...match.options(seat, 'mail.lay')].sort((a, b) => worth(b) - worth(a))
  const [draw] = match.options(seat, 'mail.draw')
  if (draw !== undefined && (handOf(match, seat).length < 3 || best === undefined || mood > 7))
    return match.submit(seat, 'mail.draw', draw)
  if (best !== undefined) return match.submit(seat, 'mail.lay', best)
  return match.submit(seat, 'turns.pass', {})
}

const isAwaited = ({ asked, chosen }: { readonly asked: boolean; readonly chosen: boolean }): boolean =>
  asked && !chosen

/** At ebb the lowest letter goes to the left; the first is passed that is allowed to. */
function passOn(match: Post, seat: Seat) {
  const hand = [...handOf(match, seat)].sort((a, b) => a.face.value - b.face.value)
  for (const { id } of hand) if (match.submit(seat, 'passing.choose', { choice: id }).ok) return
}

/** The demo of Ebb Post: four seats, with both expansions if they are on. */
export const postDemo: Demo = {
  seed: 'fair-1',
  seats: ['Otter', 'Heron', 'Vole', 'Newt'].map((name) => ({ id: name.toLowerCase(), name })),
  crowd(seed) {
    const chance = chanceFrom(seed, 'letters')
    return {
      every: THOUGHT,
      beat(match, drives) {
        if (!isMatchOf(ebbPost, match)) return
        for (const seat of match.seats.filter(drives)) {
          if (isAwaited(match.state.passing.seats.of(seat))) passOn(match, seat)
          else if (isAwaited(match.state.bid.seats.of(seat))) {
            const hand = handOf(match, seat).map(({ id }) => id)
            match.submit(seat, 'bid.choose', { choice: hand.slice(0, chance.int(0, hand.length)) })
          } else if (match.state.turns.now.seat === seat) play(match, chance, seat)
        }
      },
    }
  },
  tell({ name, cells }, nameOf) {
    const who = nameOf(cells['seat'])
    switch (name) {
      case 'mail.peeked':
        return { text: `${who} peeks at a letter of ${nameOf(cells['whose'])}` }
      case 'mail.whispered':
        return { text: `${who} whispers to ${nameOf(cells['to'])}` }
      case 'ebb.passed': {
        const losers = Array.isArray(cells['losers']) ? cells['losers'].map(nameOf) : []
        const aside = losers.length > 0 ? { aside: `${losers.join(', ')} passed nothing` } : {}
        return { text: `ebb after post ${cells['post']}`, ...aside }
      }
      case 'ebb.seal-sold': {
        const [winner] = Array.isArray(cells['winners']) ? cells['winners'] : []
        return {
          text: winner === undefined ? 'nobody gets the wax seal' : `${nameOf(winner)} gets the wax seal`,
        }
      }
      case 'letters.moved':
        return cells['to'] === 'rack' ? { text: `${who} lays a letter` } : undefined
      default:
        return undefined
    }
  },
  picture(match) {
    if (!isMatchOf(ebbPost, match)) return ''
    const head = ['', ...colour.values.map((each) => each.padStart(6)), ' points'].join(' ')
    const lines = match.allSeats.map((seat) => {
      const sums = colour.values.map((each) => String(laid(match, seat, each) || '·').padStart(6))
      return `${seat.padEnd(7)}${sums.join(' ')}  ${String(match.state.scores.sums.of(seat).score).padStart(6)}`
    })
    return [`       ${head.trimStart()}`, ...lines].join('\n')
  },
}
