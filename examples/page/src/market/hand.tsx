import { useState } from 'preact/hooks'
import type { Seen } from '../face.tsx'
import { type MarketView, wicksIn } from './market-view.ts'
import { Wick } from './wick.tsx'

interface Dip {
  readonly dipped: readonly string[]
  readonly burnt: readonly string[]
}
type Use = 'dip' | 'burn'

const nextUse = { none: 'dip', dip: 'burn', burn: undefined } as const

/** One's own wicks: each is pressed once to be dipped, twice to burn for it. What can be dipped is what the server says. */
export function Hand({ match, act }: Seen<MarketView>) {
  const { view } = match.replica
  const { turn } = view.turns.now
  const [marked, mark] = useState<{ readonly [id: string]: Use | undefined }>({})
  const [known, keep] = useState<{ readonly turn: number; readonly ways: readonly Dip[] }>()
  const hand = wicksIn(view, 'hand', match.seat)
  const facesOf = (use: Use): readonly string[] =>
    hand.filter(([id]) => marked[id] === use).map(([, { face }]) => face ?? '')
  const [dipped, burnt] = [facesOf('dip'), facesOf('burn')]
  const ways = known?.turn === turn ? known.ways : undefined
  const payable = ways?.filter((way) => isSame(way.dipped, dipped)) ?? []
  const way = payable.find((each) => isSame(each.burnt, burnt))
  const press = async (id: string): Promise<void> => {
    mark({ ...marked, [id]: nextUse[marked[id] ?? 'none'] })
    if (ways !== undefined) return
    keep({ turn, ways: (await match.options('market.dip').catch(() => [])) as readonly Dip[] })
  }
  const hint = (): string => {
    if (view.market.day[match.seat ?? '']?.fetched) return 'After fetching you cannot dip in this turn.'
    if (dipped.length === 0) return 'Press a wick once to dip it, twice to burn it.'
    if (ways !== undefined && payable.length === 0) return 'These cannot be dipped.'
    const price = payable[0]?.burnt.length ?? 0
    return way === undefined ? `To burn: ${price}. You have chosen ${burnt.length}.` : ''
  }
  return (
    <fieldset class="helm">
      <legend>Your hand</legend>
      {hand.map(([id, { face }]) => (
        <button
          type="button"
          key={id}
          aria-label={`${face}${marked[id] === undefined ? '' : `, to ${marked[id]}`}`}
          aria-pressed={marked[id] !== undefined}
          onClick={() => void press(id)}
        >
          <Wick colour={face} /> <small>{marked[id]}</small>
        </button>
      ))}
      <button
        type="button"
        class="main"
        disabled={way === undefined}
        onClick={() => {
          mark({})
          keep(undefined)
          if (way !== undefined) act?.('market.dip', way)
        }}
      >
        Dip
      </button>
      <span aria-live="polite">{hint()}</span>
    </fieldset>
  )
}

const isSame = (a: readonly string[], b: readonly string[]): boolean =>
  a.toSorted().join(' ') === b.toSorted().join(' ')
