import type { lanternMarket } from '@zinc-referee/examples'
import type { ViewFor } from 'zinc-referee'

export type MarketView = ViewFor<typeof lanternMarket>

/** Cards of a place, as this view has them. */
export const wicksIn = (view: MarketView, place: string, holder: string | null = null) =>
  Object.entries(view.wicks.cards).filter(
    ([, card]) => card.place === place && (holder === null || card.holder === holder),
  )
