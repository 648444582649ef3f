import { lanternMarket, steppingStones } from '@zinc-referee/examples'
import {
  type AnyMatch,
  beginAnyMatch,
  type Chance,
  chanceFrom,
  choice,
  defineRule,
  defineRulebook,
  int,
  single,
} from 'zinc-referee'
import { pilesOf, roster } from 'zinc-referee/rules'
import { bareThousand } from './bare-loop.js'
import { figure, type Row, ratio, row, timed } from './measure.js'

const SEATS = ['otter', 'heron', 'vole', 'newt', 'coot', 'pike', 'moth', 'toad']

function opened(book: Parameters<typeof beginAnyMatch>[0], count: number, seed: string): AnyMatch {
  const match = beginAnyMatch(book, { seed, with: book.optional })
  for (const seat of SEATS.slice(0, count)) match.direct('roster.join', { seat, name: seat })
  for (const seat of SEATS.slice(0, count)) match.submit(seat, 'roster.ready', {})
  if (match.nextDue !== undefined) match.advanceTo(match.nextDue)
  return match
}
const now = (match: AnyMatch): { readonly seat: string; readonly turn: number; readonly finished: boolean } =>
  Object(match.state['turns']).now
const isLive = (match: AnyMatch): boolean => Object(match.state['phases']).now.phase === 'live'

/** Any action of the seat in turn that has an option, and any of its options. */
function moveAtRandom(match: AnyMatch, chance: Chance, names: readonly string[]): void {
  const { seat } = now(match)
  for (const name of chance.shuffle(names)) {
    const option = chance.pick(match.options(seat, name))
    if (option === undefined) continue
    if (!match.submit(seat, name, Object(option)).ok) throw new Error(`${name} was offered and refused`)
    return
  }
  match.submit(seat, 'turns.pass', {})
}
const offersOf = (match: AnyMatch): string[] =>
  match
    .describe()
    .rules.flatMap(({ actions }) => actions.flatMap(({ name, offers }) => (offers ? [name] : [])))

/** Turns of a second of a whole game with every expansion, every legal move computed. */
function marketTurns(seed: string): number {
  const match = opened(lanternMarket, 4, seed)
  const chance = chanceFrom(seed, 'moves')
  const names = offersOf(match)
  const took = timed(() => {
    while (isLive(match) && !now(match).finished) moveAtRandom(match, chance, names)
  })
  return now(match).turn / (took / 1000)
}

const board = defineRulebook({
  name: 'board',
  seats: { min: 2, max: 8 },
  rules: [
    roster,
    defineRule({
      name: 'board',
      actions: {
        lay: {
          input: { x: int(), y: int() },
          options: () => Array.from({ length: 1000 }, (_, n) => ({ x: n % 40, y: Math.floor(n / 40) })),
          decide(match, _, { x }) {
            if (match.own.pace.beat < x) match.own.pace.last = x
          },
        },
      },
      state: { pace: single({ beat: int(100), last: int(0) }) },
      facts: {
        beat: {
          input: {},
          handle(match) {
            match.own.pace.beat += 1
          },
        },
      },
    }),
  ],
})

const wicks = pilesOf('wicks', choice('amber', 'rose', 'jade', 'ink'), { deck: 'deck' })
const dealing = defineRulebook({
  name: 'dealing',
  seats: { min: 2, max: 8 },
  rules: [
    wicks,
    defineRule({
      name: 'dealer',
      needs: [wicks],
      facts: {
        again: {
          input: {},
          handle(match) {
            for (const seat of match.seats)
              match.use(wicks).move({
                seat,
                cards: match
                  .use(wicks)
                  .hand(seat)
                  .map(({ id }) => id),
                from: 'hand',
                to: 'deck',
              })
            match.use(wicks).shuffle('deck')
            match.use(wicks).deal('deck', 13)
          },
        },
      },
      setUp: (match) =>
        match.use(wicks).fill(
          'deck',
          Array.from({ length: 104 }, (_, n) => (['amber', 'rose', 'jade', 'ink'] as const)[n % 4] ?? 'ink'),
        ),
    }),
  ],
})

/** A whole game by random legal moves: what is offered is accepted, nothing throws, it ends with a verdict. Returns its moves. */
function stonesGame(game: number): number {
  const match = opened(steppingStones, 2, `stones ${game}`)
  const chance = chanceFrom(`stones ${game}`, 'moves')
  let moves = 0
  for (; isLive(match); moves++) moveAtRandom(match, chance, ['stones.lay'])
  if (match.faults.length > 0 || Object(match.state['verdict']).end.kind === undefined)
    throw new Error(`game ${game} did not end as it should`)
  return moves
}

function manyStones(games: number): readonly [seconds: number, peak: number] {
  let peak = 0
  const took = timed(() => {
    for (let game = 0; game < games; game++) {
      stonesGame(game)
      if (game % 100 === 0) peak = Math.max(peak, process.memoryUsage().rss)
    }
  })
  return [took / 1000, peak / 2 ** 20]
}

export function tableRows(): Row[] {
  let game = 0
  const lone = opened(board, 2, 'board')
  const table = opened(dealing, 8, 'deal')
  for (const seat of SEATS) table.addViewer(seat)
  table.flush()
  const deal = (): number =>
    timed(() => {
      if (!table.report('dealer.again', {}).ok) throw new Error('the deal was refused')
      if (table.flush().length !== 8) throw new Error('somebody was not told')
    })
  const options = (): number => {
    let [found, took] = [0, 0]
    for (let n = 0; n < 10; n++) {
      lone.report('board.beat', {}) // what they read has changed: none is known from before
      took += timed(() => {
        found += lone.options('otter', 'board.lay').length
      })
    }
    if (found !== 10_000) throw new Error(`${found} of 10,000 options`)
    return found / (took / 1000)
  }
  const lay = (): number => {
    let moves = 0
    const took = timed(() => {
      for (let n = 0; n < 5; n++) moves += stonesGame(game++)
    })
    return took / moves
  }
  const ratios = [
    ratio('deal/bare', { most: 150 }, deal, bareThousand, 31),
    ratio('stones/bare', { most: 10 }, lay, bareThousand, 31),
  ]
  const [seconds, peak] = manyStones(10_000)
  return [
    figure('market/turns', 'turns/s', { least: 100 }, () => marketTurns(`market ${game++}`)),
    figure('options/1000', 'inputs/s', { least: 200_000 }, options),
    ...ratios,
    row('stones/10000', seconds, 's', undefined),
    row('stones/10000 peak', peak, 'MiB', { most: 300 }),
  ]
}
