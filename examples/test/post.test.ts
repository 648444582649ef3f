import { ebbPost } from '@zinc-referee/examples'
import { expect, test } from 'vitest'
import type { Seat } from 'zinc-referee'
import { playMatch } from 'zinc-referee/testing'

const SEATS = ['otter', 'heron', 'vole']

function atTheTideLine(more: { readonly with?: readonly ('storm' | 'drift')[] } = {}) {
  const { match, replay } = playMatch(ebbPost, SEATS, more)
  const cardsOf = (place: 'hand' | 'rack', seat: Seat) =>
    match.state.letters.cards.where({ place, holder: seat }).map(({ id, face }) => ({ id, ...face }))
  const game = {
    match,
    replay,
    hand: (seat: Seat) => cardsOf('hand', seat),
    rack: (seat: Seat) => cardsOf('rack', seat),
    words: (place: 'hand' | 'rack', seat: Seat) =>
      cardsOf(place, seat)
        .map(({ colour, value }) => `${colour} ${value}`)
        .sort(),
    lay: (seat: Seat, at = 0) => match.submit(seat, 'mail.lay', { letter: game.hand(seat)[at]?.id ?? '' }),
    /** Everyone passes for so many turns, but those who lay. */
    turnsPass(count: number, lays: readonly Seat[] = []) {
      for (let n = 0; n < count; n++) {
        const { seat } = match.state.turns.now
        if (seat === undefined) return
        if (lays.includes(seat)) game.lay(seat)
        match.submit(seat, 'turns.pass', {})
      }
    },
    pass: (seat: Seat) => {
      const [letter] = game.hand(seat)
      return { letter, ruling: match.submit(seat, 'passing.choose', { choice: letter?.id ?? '' }) }
    },
    notes: (seat: Seat) => Object.values(match.view(seat).notebook.notes).map(({ note }) => note),
  }
  return game
}

test('thirty letters: four in each hand, each colour from 1 to 6, the rest in the sack', () => {
  const { match, hand } = atTheTideLine()
  expect(SEATS.map((seat) => hand(seat).length)).toEqual([4, 4, 4])
  expect(match.view('spectator').letters.counts.of).toMatchObject({ sack: 18 })
  const all = match.state.letters.cards.all().map(({ face }) => `${face.colour} ${face.value}`)
  expect(new Set(all).size).toBe(30)
})

test('ebb: letters go to the left all at once; who names none loses the lowest of its rack', () => {
  const { match, turnsPass, words, rack, pass, notes, replay } = atTheTideLine()
  turnsPass(6, ['vole'])
  expect([match.view('otter').passing.question.open, match.state.turns.now.seat]).toEqual([true, undefined])
  const lowest = Math.min(...rack('vole').map(({ value }) => value))
  const [given, next] = [pass('otter').letter, pass('heron').letter]
  expect(words('hand', 'heron')).not.toContain(`${given?.colour} ${given?.value}`)
  match.advanceTo(match.now + 60_000)
  expect(words('hand', 'heron')).toContain(`${given?.colour} ${given?.value}`)
  expect(words('hand', 'vole')).toContain(`${next?.colour} ${next?.value}`)
  expect(rack('vole').map(({ value }) => value)).not.toContain(rack('vole').length === 0 ? lowest : -1)
  expect(rack('vole')).toHaveLength(1)
  expect(notes('otter')).toEqual([
    { about: 'passed', whose: 'heron', colour: given?.colour, value: given?.value },
  ])
  expect(notes('heron')).toContainEqual({
    about: 'got',
    whose: 'otter',
    colour: given?.colour,
    value: given?.value,
  })
  expect(match.view('spectator').turns.now).toMatchObject({ cycle: 3, seat: 'otter' })
  expect(match.faults).toEqual([])
  expect(replay().differs).toBeUndefined()
})

test('a peek shows one letter until the post is over, and stays in the notebook; a whisper is heard by one', () => {
  const { match, notes, turnsPass, hand } = atTheTideLine()
  match.submit('otter', 'mail.peek', { whose: 'heron' })
  const [note] = notes('otter')
  expect(note).toMatchObject({ about: 'peek', whose: 'heron' })
  const looksAt = (seat: Seat) =>
    Object.values(match.view(seat).letters.cards).filter(
      ({ holder, place, face }) => place === 'hand' && holder === 'heron' && face !== undefined,
    ).length
  expect([looksAt('otter'), looksAt('vole')]).toEqual([1, 0])
  match.submit('otter', 'mail.whisper', { to: 'vole', colour: 'moss' })
  const holds = hand('otter').some(({ colour }) => colour === 'moss')
  expect(notes('vole')).toEqual([{ about: 'whisper', whose: 'otter', colour: 'moss', value: holds ? 1 : 0 }])
  expect(notes('heron')).toEqual([])
  turnsPass(2)
  expect([looksAt('otter'), notes('otter')[0]]).toEqual([0, note])
})

test('what cannot be done is refused with its reason, and is not offered', () => {
  const { match, lay, rack, hand } = atTheTideLine()
  const refused = (action: string, input: object) => {
    const ruling = match.submit('otter', action as 'mail.draw', input)
    return ruling.ok ? 'ok' : ruling.code
  }
  expect(refused('mail.peek', { whose: 'otter' })).toBe('no-such-hand')
  expect(refused('mail.whisper', { to: 'otter', colour: 'moss' })).toBe('nobody-else')
  expect(refused('mail.lay', { letter: hand('heron')[0]?.id ?? '' })).toBe('no-such-target')
  expect(refused('mail.draw', {})).toBe('ok')
  expect(refused('mail.draw', {})).toBe('hand-is-full')
  expect(match.options('otter', 'mail.draw')).toEqual([])
  lay('otter')
  expect([rack('otter').length, hand('otter').length]).toEqual([1, 4])
  expect(match.state.turns.now.seat).toBe('heron')
  const [held] = hand('heron')
  match.submit('heron', 'mail.lay', { letter: held?.id ?? '' })
  const swaps = match.options('heron', 'mail.swap')
  expect(swaps).toHaveLength(3)
  const [swap = { laid: '', held: '' }] = swaps
  const same = match.submit('heron', 'mail.swap', { laid: swap.laid, held: swap.laid })
  expect(same).toMatchObject({ ok: false, code: 'same-letter' })
  expect(match.submit('heron', 'mail.swap', swap)).toEqual({ ok: true })
  expect([rack('heron').length, rack('heron')[0]?.id === held?.id]).toEqual([1, false])
})

test('the seal goes to the one highest bid, all bids are gone, and racks are paid colour by colour', () => {
  const { match, turnsPass, rack, hand, pass, replay } = atTheTideLine()
  turnsPass(6, SEATS)
  for (const seat of SEATS) pass(seat)
  turnsPass(6)
  for (const seat of SEATS) pass(seat)
  expect(match.view('otter').bid.question.open).toBe(true)
  const held = hand('otter')
  const [laid] = rack('otter')
  expect(match.submit('otter', 'bid.choose', { choice: [laid?.id ?? ''] })).toMatchObject({
    code: 'not-held',
  })
  expect(match.submit('otter', 'bid.choose', { choice: held.map(({ id }) => id) })).toEqual({ ok: true })
  for (const seat of ['heron', 'vole']) match.submit(seat, 'bid.choose', { choice: [] })
  expect(hand('otter')).toEqual([])
  const due = new Map(SEATS.map((seat) => [seat, seat === 'otter' && held.length > 0 ? 4 : 0]))
  for (const colour of ['rust', 'moss', 'dusk', 'chalk', 'plum']) {
    const sums = SEATS.map((seat) => ({
      seat,
      sum: rack(seat)
        .filter((each) => each.colour === colour)
        .reduce((sum, { value }) => sum + value, 0),
    }))
      .filter(({ sum }) => sum > 0)
      .sort((a, b) => b.sum - a.sum)
    const prizes = [5, 2, 0]
    for (const { seat, sum } of sums) {
      const level = sums.filter((each) => each.sum === sum)
      const from = sums.findIndex((each) => each.sum === sum)
      const shared = prizes.slice(from, from + level.length).reduce((all, each) => all + each, 0)
      due.set(seat, (due.get(seat) ?? 0) + Math.floor(shared / level.length))
    }
  }
  expect(SEATS.map((seat) => match.state.scores.sums.of(seat).score)).toEqual([...due.values()])
  expect(match.view('spectator').verdict.end).toMatchObject({ reason: 'post-closed' })
  expect(replay().differs).toBeUndefined()
})

test('Storm: a letter of the stormy colour is not passed. Drift: what is laid goes to the left', () => {
  const { match, turnsPass, hand, lay, rack } = atTheTideLine({ with: ['storm', 'drift'] })
  lay('otter')
  expect([rack('otter').length, rack('heron').length]).toEqual([0, 1])
  turnsPass(6)
  const stormy = match.state.storm?.sky.colour
  for (const { id, colour } of hand('heron')) {
    const ruling = match.submit('heron', 'passing.choose', { choice: id })
    expect(ruling.ok ? 'ok' : ruling.code).toBe(colour === stormy ? 'stormy' : 'ok')
  }
})

test('with all hands empty, ebb and the bid are over at once', () => {
  const { match, turnsPass, pass, rack } = atTheTideLine()
  turnsPass(6, SEATS)
  for (const seat of SEATS) pass(seat)
  turnsPass(6, SEATS)
  expect(SEATS.map((seat) => rack(seat).length)).toEqual([3, 3, 3])
  expect(match.view('spectator').verdict.end.reason).toBe('post-closed')
  expect(match.state.scores.sums.of('otter').score).toBeLessThan(36)
})

test('somebody leaves at ebb: the others pass past the empty seat, and the post goes on', () => {
  const { match, turnsPass, pass, words } = atTheTideLine()
  turnsPass(6)
  const { letter } = pass('otter')
  match.submit('heron', 'roster.leave', {})
  pass('vole')
  expect(words('hand', 'vole')).toContain(`${letter?.colour} ${letter?.value}`)
  expect(match.view('spectator').turns.now.cycle).toBe(3)
  expect(match.faults).toEqual([])
})
