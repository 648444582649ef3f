import { readFileSync } from 'node:fs'
import { isMatchOf } from 'zinc-referee'
import { fields, listOf, whole, word } from 'zinc-referee/settings'
import type { Demo } from 'zinc-referee/testing'
import { Bots } from './bots.ts'
import { crews } from './crews.ts'
import { River } from './river.ts'
import { reedRegatta } from './rulebook.ts'

const fair = fields({
  seed: word,
  rafts: listOf(fields({ id: word, name: word, bold: whole({ min: 0, max: 100 }), load: whole({ min: 1 }) })),
}).parse(JSON.parse(readFileSync(new URL('../../data/regatta.json', import.meta.url), 'utf8')))

const STROKE = 500

/** The demo of the regatta: its rafts, bots and river, and the texts of the feed. */
export const regattaDemo: Demo = {
  seed: fair.seed,
  seats: fair.rafts.map(({ id, name }) => ({ id, name })),
  crowd(seed) {
    const bots = new Bots(seed, new Map(fair.rafts.map((raft) => [raft.id, raft])))
    const river = new River(seed)
    return {
      every: STROKE,
      beat(match, drives) {
        if (!isMatchOf(reedRegatta, match)) return
        for (const seat of match.allSeats)
          if (match.state.roster.seats.of(seat).presence === 'here' && drives(seat)) bots.think(match, seat)
        river.stroke(match)
      },
    }
  },
  board: {
    crew: 'teams.side.team',
    sunk: 'credit.tally.kills',
    lost: 'credit.tally.deaths',
    assists: 'credit.tally.assists',
    score: 'scores.sums.score',
  },
  picture(match) {
    if (!isMatchOf(reedRegatta, match)) return ''
    const { side, sums } = match.state.teams
    return crews
      .map((crew, team) => {
        const seats = match.allSeats.filter((seat) => side.of(seat).team === team)
        return `${crew}   ${String(sums.score[team] ?? 0).padStart(4)}   ${seats.join(', ')}`
      })
      .join('\n')
  },
  tell(notice, name) {
    const { cells } = notice
    switch (notice.name) {
      case 'phases.changed':
        return cells['to'] === 'live'
          ? { text: 'go' }
          : cells['to'] === 'countdown'
            ? { text: 'countdown' }
            : undefined
      case 'raft.rammed':
        return {
          text: `${name(cells['by'])} rams ${name(cells['target'])}`,
          aside: `health ${cells['health']}`,
        }
      case 'raft.landed':
        return { text: `${name(cells['seat'])} lands ${cells['cargo']} cargo` }
      case 'raft.armed':
        return { text: `${name(cells['seat'])} finds a bronze prow`, aside: 'rams count double for 8 s' }
      case 'vitals.blocked':
        return { text: `${name(cells['target'])} is protected`, aside: `from ${name(cells['by'])}` }
      case 'respawn.back':
        return { text: `${name(cells['seat'])} is back`, aside: `life ${cells['life']}` }
      case 'credit.given':
        return sinking(cells, name)
      case 'rounds.ended': {
        const [first] = Array.isArray(cells['winners']) ? cells['winners'] : []
        return {
          text: `round ${cells['round']} is over`,
          aside: first === undefined ? 'drawn' : `for ${name(first)}'s crew`,
        }
      }
      case 'rounds.overtime-began':
        return { text: 'level: overtime until one crew leads' }
      case 'roster.left':
        return { text: `${name(cells['seat'])} leaves` }
      default:
        return undefined
    }
  },
}

function sinking(
  cells: { readonly [cell: string]: unknown },
  name: (seat: unknown) => string,
): { readonly text: string; readonly aside?: string } {
  const assists = Array.isArray(cells['assists']) ? cells['assists'].map(name) : []
  const aside = assists.length > 0 ? { aside: `assist ${assists.join(', ')}` } : {}
  return cells['killer'] === null
    ? { text: `${name(cells['seat'])} sinks`, ...aside }
    : { text: `${name(cells['killer'])} sinks ${name(cells['seat'])}`, ...aside }
}
