import fc from 'fast-check'
import { expect, test } from 'vitest'
import { countVotes } from 'zinc-referee/rules'
import { playMatch } from 'zinc-referee/testing'
import { open, SEATS, secret, voting } from '../fixtures/tasting-mode.ts'

test('BA1, BA2: the last vote before the closing ms counts; at that ms it is closed; where nothing changes, the first', () => {
  const { at, vote, result } = voting({ time: 5000 })
  vote('otter', 'vole')
  at(4999)
  expect(vote('otter', 'heron')).toEqual({ ok: true })
  at(5000)
  expect(vote('heron', 'vole')).toMatchObject({ code: 'ballot-closed' })
  expect(result()).toEqual([['heron'], 'elected'])
  const fixed = voting({ changes: false })
  fixed.vote('otter', 'vole')
  expect(fixed.vote('otter', 'heron')).toMatchObject({ code: 'already-voted' })
  expect(fixed.match.submit('otter', 'tasting.unvote', {})).toMatchObject({ code: 'already-voted' })
})

test('BA3, BA5: closed as soon as all here have voted; who is away is not awaited, what it voted stays', () => {
  const { match, vote, all, ballot, result } = voting()
  vote('moth', 'vole')
  match.direct('roster.absent', { seat: 'moth' })
  match.direct('roster.absent', { seat: 'toad' })
  all('vole', 'heron', 'heron')
  expect(ballot().open).toBe(true)
  vote('coot', 'vole')
  expect([ballot().open, result()]).toEqual([false, [['vole'], 'elected']])
})

test('BA4, BA7, BA8: who leaves votes no more and is no candidate; who voted for it is awaited again; with one left it goes on, with none it closes', () => {
  const { match, all, ballot, vote, result } = voting({}, { book: open })
  all('vole', 'vole', 'vole', 'otter', 'otter')
  match.submit('vole', 'roster.leave', {})
  expect([ballot().candidates.includes('vole'), ballot().open]).toEqual([false, true])
  expect(match.view('spectator').tasting.votes['otter']?.voted).toBe(false)
  vote('otter', 'moth')
  vote('heron', 'moth')
  expect(ballot().open).toBe(true)
  vote('moth', 'moth')
  expect(result()).toEqual([['moth'], 'elected'])
  const few = voting({}, { candidates: ['cask', 'tun'] })
  few.match.report('host.withdraw', { candidate: 'cask' })
  expect(few.ballot().open).toBe(true)
  few.match.report('host.withdraw', { candidate: 'tun' })
  expect([few.ballot().open, few.result()]).toEqual([false, [[], 'no-candidates']])
})

test('BA7: in a secret ballot nobody can tell who voted for a candidate that leaves; who did may vote again', () => {
  const seen = (voted: string) => {
    const { match, vote } = voting({ changes: false })
    for (const viewer of ['heron', 'spectator']) match.addViewer(viewer)
    vote('otter', voted)
    match.submit('vole', 'roster.leave', {})
    return { sent: JSON.stringify(match.flush()), again: vote('otter', 'moth') }
  }
  const [lost, kept] = [seen('vole'), seen('moth')]
  expect(lost.sent).toBe(kept.sent)
  expect([lost.again, kept.again]).toMatchObject([{ ok: true }, { code: 'already-voted' }])
})

test('BA6, BA16, BA18: not for who joined later, nor for nobody that stands; oneself if the mode allows it', () => {
  const { match, vote } = voting({ selfVote: false })
  match.direct('roster.join', { seat: 'newt', name: 'Newt' })
  expect(vote('newt', 'otter')).toMatchObject({ code: 'not-a-voter' })
  expect(vote('otter', 'pike')).toMatchObject({ code: 'no-such-candidate' })
  expect(vote('otter', 'otter')).toMatchObject({ code: 'no-self-vote' })
  expect(voting().vote('otter', 'otter')).toEqual({ ok: true })
})

test('BA9, BA10, BA11: abstaining counts for the quorum and not for what was cast; without the quorum nobody wins', () => {
  const { match, at, vote, result } = voting({ quorum: 500, threshold: 'over-half-cast', time: 1000 })
  vote('otter', 'vole')
  for (const seat of ['heron', 'coot']) match.submit(seat, 'tasting.abstain', {})
  at(1000)
  expect(result()).toEqual([['vole'], 'elected']) // one of one cast, three of six voted
  const few = voting({ quorum: 500, time: 1000, ties: 'random' })
  few.vote('otter', 'vole')
  few.vote('heron', 'vole')
  few.at(1000)
  expect(few.result()).toEqual([[], 'no-quorum'])
  expect(few.match.view('spectator').tasting.result.totals).toMatchObject({ vole: 2 })
})

test('BA12: with no votes at all nobody wins, whatever decides ties', () => {
  const { at, result } = voting({ time: 1000, ties: 'random' })
  at(1000)
  expect(result()).toEqual([[], 'no-votes'])
})

test.each([
  ['BA13: three of six are not over half', 'over-half-cast', [3, 2, 1], 'below-threshold'],
  ['BA13: four of six are', 'over-half-cast', [4, 2], 'elected'],
  ['three of five are', 'over-half-cast', [3, 2], 'elected'],
  ['but not over half of all six', 'over-half-all', [3, 2], 'below-threshold'],
  ['two thirds: four of six', { num: 2, den: 3 }, [4, 2], 'elected'],
  ['three of five are less', { num: 2, den: 3 }, [3, 2], 'below-threshold'],
] as const)('%s', (_case, threshold, votes, why) => {
  const cast = votes.flatMap((count, at) =>
    Array.from({ length: count }, () => ({ for: [SEATS[at] ?? ''], weight: 1 })),
  )
  const count = countVotes(cast, SEATS, { voters: 6, weight: 6 }, { quorum: 0, threshold, pick: 1 })
  expect(count.why ?? 'elected').toBe(why)
})

test.each([
  ['none', [[], 'tie']],
  ['all', [['otter', 'heron'], 'elected']],
  ['first', [['otter'], 'elected']],
])('BA14: a tie, %s', (ties, expected) => {
  const { all, result } = voting({ ties })
  all('otter', 'otter', 'heron', 'heron', 'vole', 'coot')
  expect(result()).toEqual(expected)
})

test('BA14, BA15: a run-off among the tied, with empty votes and fresh time; tied again, nobody; no endless loop', () => {
  const { match, at, all, ballot, result } = voting({ ties: 'run-off', time: 1000 })
  at(500)
  all('otter', 'otter', 'heron', 'heron', 'vole', 'coot')
  expect(ballot()).toMatchObject({ open: true, runOff: 1, candidates: ['otter', 'heron'] })
  expect([ballot().until, match.state.tasting.votes.of('otter').for]).toEqual([1500 + 3000, []])
  all('otter', 'otter', 'otter', 'heron', 'heron', 'heron')
  expect([ballot().open, result()]).toEqual([false, [[], 'tie']])
  const three = voting({ ties: 'run-off' })
  three.all('otter', 'otter', 'heron', 'heron', 'vole', 'vole')
  three.all('otter', 'otter', 'otter', 'otter', 'heron', 'vole')
  expect(three.result()).toEqual([['otter'], 'elected'])
})

test('BA14: at random among the tied, as the seed has it; the chair decides where there is one', () => {
  const winner = (seed: string) => {
    const { match } = playMatch(secret, [...SEATS], { seed, settings: { tasting: { ties: 'random' } } })
    match.report('host.call', { voters: [...SEATS], candidates: ['otter', 'heron'] })
    for (const [at, seat] of SEATS.entries())
      match.submit(seat, 'tasting.vote', { for: [at % 2 === 0 ? 'otter' : 'heron'] })
    return match.view('spectator').tasting.result.winners[0]
  }
  expect(new Set(Array.from({ length: 12 }, (_, at) => winner(`fair-${at}`)))).toEqual(
    new Set(['otter', 'heron']),
  )
  const { all, result } = voting({}, { chair: 'heron' })
  all('otter', 'vole', 'otter', 'vole', 'coot', 'moth')
  expect(result()).toEqual([['vole'], 'elected'])
})

test('BA17: two of several; the same twice is bad input; a tie at the last place falls under the policy', () => {
  const { vote, result, match } = voting({ pick: 2, ties: 'all' })
  expect(vote('otter', 'vole', 'vole')).toMatchObject({ code: 'bad-input' })
  expect(vote('otter', 'vole', 'coot', 'moth')).toMatchObject({ code: 'bad-input' })
  for (const seat of SEATS.slice(0, 4)) vote(seat, 'vole', seat === 'otter' ? 'coot' : 'moth')
  for (const seat of SEATS.slice(4)) vote(seat, 'vole', 'coot')
  expect(result()).toEqual([['vole', 'coot', 'moth'], 'elected'])
  expect(match.faults).toEqual([])
})

test('BA19, BA20: a freeze and a break do not hold it, a pause does; the verdict drops it; totals can stay hidden', () => {
  const { match, at, vote, ballot } = voting({ time: 10_000, hideTotals: true })
  match.report('host.freeze', {})
  expect(vote('otter', 'vole')).toEqual({ ok: true })
  match.direct('phases.pause', {})
  expect(vote('heron', 'vole')).toMatchObject({ code: 'paused' })
  at(20_000)
  match.direct('phases.resume', {})
  at(29_999)
  expect(ballot().open).toBe(true)
  at(30_000)
  expect([ballot().open, match.view('spectator').tasting.result.totals]).toEqual([false, {}])
  const over = voting()
  over.match.direct('phases.abandon', {})
  expect([over.ballot().open, over.vote('otter', 'vole')]).toEqual([
    false,
    expect.objectContaining({ code: 'over' }),
  ])
})

test('an audience that the host has counted has its part in the totals', () => {
  const { match, all, result } = voting({}, { candidates: ['cask', 'tun'] })
  expect(match.report('tasting.audience', { for: 'vat', votes: 3 })).toMatchObject({
    code: 'no-such-candidate',
  })
  match.report('tasting.audience', { for: 'tun', votes: 40 })
  all('cask', 'cask', 'cask', 'cask', 'cask', 'cask')
  expect(result()).toEqual([['tun'], 'elected'])
})

test('an audience alone has as long as the ballot lasts; voters who all leave do not hold it open', () => {
  const { match, ballot, result } = voting({ time: 5000 }, { voters: [], candidates: ['cask', 'tun'] })
  match.report('tasting.audience', { for: 'tun', votes: 4 })
  expect(ballot().open).toBe(true)
  match.advanceTo(match.now + 5000)
  expect([ballot().open, result()]).toEqual([false, [['tun'], 'elected']])
  const left = voting({ time: null }, { voters: ['otter'], candidates: ['cask', 'tun'] })
  left.match.submit('otter', 'roster.leave', {})
  expect(left.ballot().open).toBe(false)
})

test('weights are amended by rules', () => {
  const { match } = playMatch(secret, ['otter', 'heron', 'newt'])
  match.report('host.call', {
    voters: ['otter', 'heron', 'newt'],
    candidates: ['cask', 'tun', 'vat'],
  })
  match.submit('otter', 'tasting.vote', { for: ['cask'] })
  match.submit('heron', 'tasting.vote', { for: ['tun'] })
  match.submit('newt', 'tasting.vote', { for: ['vat'] })
  expect(match.view('spectator').tasting.result).toMatchObject({ winners: ['vat'], totals: { vat: 2 } })
})

test('a vote is seen by its owner, or by everyone where it is open; that one has voted by everyone', () => {
  const seen = (book: typeof secret) => {
    const { match, vote } = voting({}, { book })
    vote('otter', 'vole')
    const { votes } = match.view('heron').tasting
    return [votes['otter']?.voted, votes['otter']?.for, match.view('otter').tasting.votes['otter']?.for]
  }
  expect(seen(secret)).toEqual([true, undefined, ['vole']])
  expect(seen(open)).toEqual([true, ['vole'], ['vole']])
})

test('laws a to e: the result is that of the last votes, whoever cast them in whatever order; a vote more for the winner leaves it; totals are what was cast; secret votes change no byte', () => {
  const votes = fc.array(
    fc.record({ seat: fc.constantFrom(...SEATS), for: fc.constantFrom('cask', 'tun', 'vat') }),
    { maxLength: 14 },
  )
  fc.assert(
    fc.property(votes, fc.constantFrom('most', 'over-half-cast', 'over-half-all'), (cast, threshold) => {
      const play = (list: typeof cast) => {
        const { match, at, vote, result } = voting(
          { time: 1000, closeWhenAll: false, threshold },
          { candidates: ['cask', 'tun', 'vat'] },
        )
        for (const each of list) vote(each.seat, each.for)
        at(1000)
        return { result: result(), totals: match.view('spectator').tasting.result.totals }
      }
      const last = [...new Map(cast.map((each) => [each.seat, each])).values()]
      const straight = play(cast)
      expect(play(last.toReversed())).toEqual(straight)
      const seats = [...SEATS].reverse()
      const exchanged = last.map((each) => ({ ...each, seat: seats[SEATS.indexOf(each.seat)] ?? '' }))
      expect(play(exchanged)).toEqual(straight)
      expect(Object.values(straight.totals).reduce((sum, each) => sum + each, 0)).toBe(last.length)
      const [[winner] = []] = straight.result as [string[], string]
      const silent = SEATS.find((seat) => !last.some((each) => each.seat === seat))
      if (winner !== undefined && silent !== undefined)
        expect(play([...cast, { seat: silent, for: winner as 'cask' }]).result[0]).toEqual([winner])
      const sent = ['cask', 'tun'].map((choice) => {
        const { match, vote } = voting({ closeWhenAll: false }, { candidates: ['cask', 'tun', 'vat'] })
        match.addViewer('heron')
        vote('otter', choice)
        for (const each of cast) if (each.seat !== 'otter') vote(each.seat, each.for)
        return JSON.stringify(match.flush())
      })
      expect(sent[0]).toBe(sent[1])
    }),
    { numRuns: 40 },
  )
})
