import { type Chance, chanceFrom, isMatchOf, type MatchFor, type Seat } from 'zinc-referee'
import type { Demo } from 'zinc-referee/testing'
import { spoiledBrew } from './rulebook.ts'

type Brew = MatchFor<typeof spoiledBrew>
const THOUGHT = 2000

/** A bot that knows only its own view. Spoilers never vote for one another. */
function vote(match: Brew, chance: Chance, seat: Seat) {
  const view = match.view(seat)
  if (view.tasting.votes[seat]?.voted !== false) return
  const known = (other: Seat): string | undefined => view.roles.seats[other]?.role
  const suspects = view.tasting.ballot.candidates.filter(
    (other) => other !== seat && known(other) !== 'spoiler',
  )
  const choice = chance.int(1, 4) === 1 ? undefined : chance.pick(suspects)
  if (choice === undefined) match.submit(seat, 'tasting.abstain', {})
  else match.submit(seat, 'tasting.vote', { for: [choice] })
}

function work(match: Brew, chance: Chance, seat: Seat) {
  const [rinse, tamper] = [
    chance.pick(match.options(seat, 'brewery.rinse')),
    chance.pick(match.options(seat, 'brewery.tamper')),
  ]
  const fill = chance.pick(match.options(seat, 'brewery.fill'))
  const luck = chance.int(1, 100)
  if (tamper !== undefined && luck <= 60) match.submit(seat, 'brewery.tamper', tamper)
  else if (rinse !== undefined && luck <= 4 && match.options(seat, 'brewery.call').length > 0)
    match.submit(seat, 'brewery.call', {})
  else if (rinse !== undefined && tamper === undefined && luck <= 30)
    match.submit(seat, 'brewery.rinse', rinse)
  else if (fill !== undefined && luck <= 85) match.submit(seat, 'brewery.fill', fill)
}

/** The demo of Spoiled Brew: seven seats, two of them spoilers, and the feed that everyone sees. */
export const brewDemo: Demo = {
  seed: 'fair-1',
  seats: ['Otter', 'Heron', 'Vole', 'Newt', 'Coot', 'Moth', 'Toad'].map((name) => ({
    id: name.toLowerCase(),
    name,
  })),
  crowd(seed) {
    const chance = chanceFrom(seed, 'brew')
    return {
      every: THOUGHT,
      beat(match, drives) {
        if (!isMatchOf(spoiledBrew, match)) return
        for (const seat of match.seats.filter(drives)) {
          if (match.state.phases.now.phase !== 'live' || match.state.roster.seats.of(seat).sidelined) continue
          if (match.state.tasting.ballot.open) vote(match, chance, seat)
          else work(match, chance, seat)
        }
      },
    }
  },
  tell({ name, cells }, nameOf) {
    switch (name) {
      case 'brewery.soured':
        return { text: `the ${cells['barrel']} is sour` }
      case 'brewery.rinsed':
        return { text: `${nameOf(cells['seat'])} rinses the ${cells['barrel']}` }
      case 'brewery.called':
        return { text: `${nameOf(cells['seat'])} calls a tasting` }
      case 'tasting.closed': {
        const [seat] = Array.isArray(cells['winners']) ? cells['winners'] : []
        return seat === undefined
          ? { text: 'nobody goes home', aside: String(cells['why']) }
          : { text: `${nameOf(seat)} is sent home` }
      }
      case 'roles.revealed':
        return { text: `${nameOf(cells['seat'])} was a ${cells['role']}` }
      default:
        return undefined
    }
  },
  picture(match) {
    if (!isMatchOf(spoiledBrew, match)) return ''
    const { done, of } = match.state.errands.total
    const barrels = match.state.brewery.barrels
      .all()
      .map(({ name, sour }) => `${name}${sour ? ' (sour)' : ''}`)
    const seats = match.seats.map((seat) => {
      const { sidelined } = match.state.roster.seats.of(seat)
      return `${seat.padEnd(7)} ${match.state.roles.seats.of(seat).role.padEnd(8)} ${sidelined ? 'sent home' : ''}`.trimEnd()
    })
    return [`filled ${done} of ${of}   ${barrels.join('   ')}`, '', ...seats].join('\n')
  },
}
