import type { AnyCell, Audience } from '../../cells/index.ts'
import type { CompiledRow, PolicyRow } from '../../rows/index.ts'
import { seesCell } from '../../sight/index.ts'
import { formatElapsed } from '../../time/index.ts'
import type { Cause, Explanation } from './explanation.ts'
import type { CellNamed } from './names.ts'
import { cellText } from './says.ts'
import type { Teller } from './teller.ts'

/** Why a viewer sees a cell now, or not. */
export function explainSight(teller: Teller, { row, cell }: CellNamed, viewer: string): Explanation {
  const { engine, match } = teller.played
  const { now: at } = match
  const name = cellText(row, cell)
  const sees = row.$live && seesCell(row, cell, viewer)
  const { facets, masks } = row.$shape
  const facet = facets.findIndex(({ names }) => names.includes(cell))
  const audience = (row as Partial<PolicyRow>).$sights?.[facet]
  const asked = row.$shape.byRow && row.$live ? engine.sightOf(row as PolicyRow) : undefined
  const isMasked = masks.some((mask) => mask.name === cell && mask.facet === facet)
  const causes: Cause[] = [
    { at, depth: 0, says: `${name} is declared as seen by ${declared(row, cell)}`, isDetail: false },
    ...(audience === undefined
      ? []
      : [{ at, depth: 1, says: `now that is ${audienceText(audience)}`, isDetail: false }]),
    ...(asked === undefined ? [] : teller.reads(asked, at, 2, false)),
    ...(isMasked && !sees
      ? [{ at, depth: 1, says: 'in its place some viewers get a mask', isDetail: false }]
      : []),
  ]
  return {
    question: `Why does ${viewer} see ${name}, or not?`,
    answer: `At ${formatElapsed(at)}, ${viewer} ${sees ? 'sees' : 'does not see'} ${name}${row.$live ? '' : ', which is gone'}.`,
    causes,
  }
}

/** Whom a cell is declared for. */
function declared({ $shape: { facets, cells } }: CompiledRow, cell: string): string {
  const facet = facets.find(({ names }) => names.includes(cell))
  if (facet === undefined) return 'nobody'
  const { sights } = cells[cell] as AnyCell
  const known = sights.flatMap(({ who, group }) => group ?? (who === undefined ? [] : words[who]))
  return known.length === 0 ? 'whoever its seenWhen names' : known.join(', ')
}

const words = {
  everyone: 'everyone',
  owner: 'its owner',
  side: 'its owner and those on its side',
  near: 'its owner and whoever sees where that is',
} as const

function audienceText({ all, seats }: Audience): string {
  const named = [...seats].join(', ')
  if (all) return named === '' ? 'everyone' : `everyone but ${named}`
  return named === '' ? 'nobody' : named
}
