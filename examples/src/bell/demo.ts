import { isMatchOf } from 'zinc-referee'
import type { Demo } from 'zinc-referee/testing'
import { Bots } from './bots.ts'
import { crews } from './pier.ts'
import { Planks } from './planks.ts'
import { bellTide } from './rulebook.ts'

const STROKE = 250
/** Time in a zone is kept in thousandths of a ms. */
const MS_IN_THOUSANDTHS = 1000

/** The demo of Bell Tide: its crews and bots, and the texts of the feed. */
export const bellDemo: Demo = {
  seed: 'fair-3',
  seats: ['otter', 'heron', 'vole', 'newt', 'coot', 'pike'].map((id) => ({
    id,
    name: `${id[0]?.toUpperCase()}${id.slice(1)}`,
  })),
  crowd(seed) {
    const bots = new Bots(seed)
    const planks = new Planks(seed)
    return {
      every: STROKE,
      beat(match, drives) {
        if (!isMatchOf(bellTide, match)) return
        for (const seat of match.allSeats)
          if (match.state.roster.seats.of(seat).presence === 'here' && drives(seat)) bots.think(match, seat)
        planks.pass(match, STROKE)
      },
    }
  },
  picture(match) {
    if (!isMatchOf(bellTide, match)) return ''
    const [bell] = match.state.zones.zones.all()
    const { at, runs } = match.view('server').clocks.play
    const played = runs ? match.now - at : at
    return crews
      .map((crew, team) => {
        const seats = match.allSeats.filter((seat) => match.state.teams.side.of(seat).team === team)
        const running = bell?.side === String(team) ? bell.rate * (played - bell.since) : 0
        const rung = ((bell?.held.get(String(team)) ?? 0) + running) / MS_IN_THOUSANDTHS
        return `${crew}   rang ${(rung / 1000).toFixed(1).padStart(5)} s   ${seats.join(', ')}`
      })
      .join('\n')
  },
  tell(notice, name) {
    const { cells } = notice
    switch (notice.name) {
      case 'phases.changed':
        return cells['to'] === 'live' ? { text: 'the bell is free' } : undefined
      case 'credit.given':
        return cells['killer'] === null
          ? { text: `${name(cells['seat'])} goes down` }
          : { text: `${name(cells['killer'])} brings ${name(cells['seat'])} down` }
      case 'tide.unmasked':
        return { text: `${name(cells['seat'])} was the bell keeper`, aside: 'ten seconds for the foes' }
      case 'tide.lit':
        return { text: `${name(cells['seat'])} is lit up`, aside: 'seen by all for 10 s' }
      case 'respawn.back':
        return { text: `${name(cells['seat'])} is back`, aside: `life ${cells['life']}` }
      case 'rounds.overtime-began':
        return { text: 'level: the next full second decides' }
      case 'rounds.ended': {
        const [first] = Array.isArray(cells['winners']) ? cells['winners'] : []
        const aside = first === undefined ? 'drawn' : `for ${name(first)}'s crew`
        return { text: `round ${cells['round']} is over`, aside }
      }
      case 'idle.warned':
        return { text: 'move, or you will only watch' }
      case 'roster.left':
        return { text: `${name(cells['seat'])} leaves` }
      default:
        return undefined
    }
  },
}
