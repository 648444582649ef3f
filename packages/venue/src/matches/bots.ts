import type { Seat } from 'zinc-referee'
import { beatOnce, type Crowd, randomCrowd } from 'zinc-referee/testing'
import type { HostedMatch } from './hosted-match.ts'

/** Bots that take the empty seats of matches which players wait in. */
export interface Bots {
  /** How long players wait for one another before bots come, in ms. Default: 20,000. */
  readonly after?: number
  /** Returns who plays for the bots of a mode. Default: a legal action, at random. */
  readonly crowd?: (mode: string, seed: string) => Crowd
}

const AFTER = 20_000
const NAMES = ['Reed', 'Sedge', 'Alder', 'Willow', 'Rush', 'Fern', 'Moss', 'Heath']

/** Lets bots come into a match whose players have waited long enough, and plays for them until it ends. */
export function runBots(
  hosted: HostedMatch,
  { after = AFTER, crowd = (_mode, seed) => randomCrowd(seed, { facts: false }) }: Bots,
): void {
  const { match, id } = hosted
  const playing = crowd(match.rulebook, id)
  const isBot = (seat: Seat): boolean => match.state.roster.seats.of(seat).bot
  let waited = 0
  hosted.every(playing.every, () => {
    const { phase } = match.state.phases.now
    waited = phase === 'lobby' && hosted.people.length > 0 ? waited + playing.every : 0
    if (waited >= after) fill(hosted)
    if (match.allSeats.some(isBot)) hosted.run(() => beatOnce(match, playing, isBot))
  })
}

/** As many bots as the match needs to begin. */
function fill(hosted: HostedMatch): void {
  const { match, seatLimits } = hosted
  const { seats } = match.state.roster
  let count = match.allSeats.filter((seat) => seats.of(seat).presence !== 'left').length
  for (let n = 0; count < seatLimits.min; n++) {
    const name = NAMES[n % NAMES.length] + (n < NAMES.length ? '' : ` ${Math.floor(n / NAMES.length) + 1}`)
    const seat = `bot-${name.toLowerCase().replace(' ', '-')}`
    if (match.allSeats.includes(seat)) continue
    const ruling = hosted.run(() => match.direct('roster.join', { seat, name, bot: true }))
    if (!ruling.ok) return
    hosted.seatIds.add(seat)
    count++
  }
}
