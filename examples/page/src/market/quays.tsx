import { useState } from 'preact/hooks'
import type { Seen } from '../face.tsx'
import { nameIn } from '../names.ts'
import { Board } from '../table/board.tsx'
import { Lantern } from './lantern.tsx'
import type { MarketView } from './market-view.ts'

const QUAYS = ['mill', 'alder', 'ferry'] as const
const HOOKS = [1, 2, 3, 4, 5, 6, 7]

/** Three quays of seven hooks; the lantern that is in hand can be hung wherever the server offers it. */
export function Quays({ match, act }: Seen<MarketView>) {
  const { view } = match.replica
  const [picked, pick] = useState('')
  const rows = act === undefined ? [] : (view['night-boats']?.options?.row ?? [])
  const hangs = act === undefined ? [] : (view.market.options?.hang ?? [])
  const offers = hangs.length > 0 ? hangs : rows
  const action = hangs.length > 0 ? 'market.hang' : 'night-boats.row'
  const inHand = [...new Set(offers.map(({ lantern }) => lantern))]
  const lantern = inHand.includes(picked) ? picked : inHand[0]
  const lanterns = Object.values(view.market.lanterns)
  return (
    <div class="quays">
      {inHand.length > 1 && (
        <fieldset class="helm">
          <legend class="unseen">Which lantern</legend>
          {inHand.map((id) => (
            <button type="button" key={id} aria-pressed={id === lantern} onClick={() => pick(id)}>
              {view.market.lanterns[id]?.colour} lantern
            </button>
          ))}
        </fieldset>
      )}
      <Board
        label="Quays"
        columns={HOOKS.length}
        rows={QUAYS.map((quay) => `${quay} quay`)}
        cells={QUAYS.flatMap((quay) =>
          HOOKS.map((hook) => {
            const hung = lanterns.find((each) => each.quay === quay && each.hook === hook)
            const offer = offers.find(
              (each) => each.lantern === lantern && each.quay === quay && each.hook === hook,
            )
            const whose = hung?.holder == null ? "nobody's" : `${nameIn(view, hung.holder)}'s`
            return {
              key: `${quay} ${hook}`,
              label: `${offer === undefined ? '' : 'hang on '}${quay} ${hook}${hung === undefined ? '' : `, ${whose} ${hung.colour}`}`,
              shows:
                hung === undefined ? (
                  <small>{hook}</small>
                ) : (
                  <>
                    <Lantern
                      colour={hung.colour}
                      seat={hung.holder === null ? undefined : view.roster.seats[hung.holder]}
                    />
                    <small>{hung.colour}</small>
                  </>
                ),
              choose: offer === undefined ? undefined : () => act?.(action, offer),
            }
          }),
        )}
      />
    </div>
  )
}
