import {
  type Cells,
  compileDefaults,
  everyone,
  type Masks,
  near,
  nobody,
  owner,
  reachOf,
  type Sight,
  side,
} from '../cells/index.ts'
import { Named, RefereeError } from '../kit/index.ts'
import { compileRow, MAX_FACETS } from '../rows/index.ts'
import type { Definition } from '../rule/index.ts'
import { assertGates } from '../rule/index.ts'
import { eventFacets, eventReferences } from './event-facets.ts'
import { draftClass } from './open-draft.ts'
import {
  type DraftPlan,
  type EventPlan,
  MAX_PARTS,
  type RulePlan,
  type TimerPlan,
  WAKE_BITS,
} from './plan.ts'
import { settingsOf } from './settings.ts'

/** How long clients show a notice, in ms, unless its rule says otherwise. */
const NOTICE_LASTS = 6000

/** One rule made ready: its parts compiled, its timers numbered, its events and drafts without their handlers yet. */
export function planRule(
  definition: Definition,
  index: number,
  given: unknown,
  all: readonly Definition[],
  generated: boolean,
): RulePlan {
  const { name } = definition
  assertGates(name, definition.gates)
  const firstSlot = all.slice(0, index).reduce((sum, { timers = {} }) => sum + Object.keys(timers).length, 0)
  const firstDraft = all.slice(0, index).reduce((sum, { drafts = {} }) => sum + Object.keys(drafts).length, 0)
  const config = definition.config?.(given) ?? {}
  const usual = settingsOf({ name, definition, given, config }, {})
  const fixed = new Set<string>()
  const parts = Object.entries(definition.state ?? {}).map(
    ([part, { part: kind, cells, span, owner, policies, masks, indexed }], at) => ({
      name: part,
      kind,
      span,
      shape: compileRow(
        {
          path: `/${name}/${part}`,
          keyed: kind !== 'single',
          cells: sighted(name, cells, usual, fixed),
          wakes: wakesOf(all, index, part),
          place: index * MAX_PARTS + at,
          drawn: kind === 'table',
          owner,
          policies,
          masks: masks && wholeMasks(masks, sightsOf(name, usual, fixed)),
          indexed,
        },
        generated,
      ),
    }),
  )
  const drafts = new Named(
    Object.entries(definition.drafts ?? {}).map(([draft, cells], at) => [
      draft,
      planDraft(definition, index, firstDraft + at, draft, cells, generated),
    ]),
  )
  return {
    index,
    name,
    definition,
    given,
    config,
    usual,
    parts,
    fixed,
    timers: new Named(
      Object.entries(definition.timers ?? {}).map(([timer, how], at) => [
        timer,
        planTimer(how, firstSlot + at, index, name, timer, sightsOf(name, usual, fixed)),
      ]),
    ),
    events: new Named(
      Object.entries(definition.events ?? {}).map(([event, cells]) => [
        event,
        planEvent(index, definition, event, sighted(name, cells, usual, fixed), generated),
      ]),
    ),
    drafts,
    changed: definition.changed && { rule: index, label: `${name} changed`, run: definition.changed },
    onVoid: definition.onVoid && { rule: index, label: `${name} onVoid`, run: definition.onVoid },
    setUp: definition.setUp && { rule: index, label: `${name} setUp`, run: definition.setUp },
  }
}

const namedSights: ReadonlyMap<unknown, Sight> = new Map(
  Object.entries({ everyone, side, near, owner, nobody }),
)

/** Cells with the sights that settings name, and with their groups under whole names. */
function sighted(rule: string, cells: Cells, settings: unknown, fixed: Set<string>): Cells {
  const sight = sightsOf(rule, settings, fixed)
  return Object.fromEntries(
    Object.entries(cells).map(([name, cell]) => {
      const sights = cell.sights.map(sight)
      return [name, { ...cell, sights, reach: reachOf(sights) }]
    }),
  )
}

function sightsOf(rule: string, settings: unknown, fixed: Set<string>): (written: Sight) => Sight {
  return (each) => {
    if (each.group !== undefined)
      return each.group.includes('.') ? each : { ...each, group: `${rule}.${each.group}` }
    if (each.setting === undefined) return each
    fixed.add(each.setting)
    const got = Object(settings)[each.setting]
    const named = namedSights.get(got)
    if (named === undefined)
      throw new RefereeError('ZR_SETTING_NO_SIGHT', { rule, setting: each.setting, got })
    return named
  }
}

const wholeMasks = (masks: Masks, sight: (written: Sight) => Sight): Masks =>
  Object.fromEntries(Object.entries(masks).map(([cell, { to, as }]) => [cell, { to: sight(to), as }]))

/** The bits of the settle handlers that a change of this part wakes. */
function wakesOf(all: readonly Definition[], index: number, part: string): number {
  return all.reduce((bits, { settle }, at) => {
    const { name } = all[index] as Definition
    const keys = [`${name}.${part}`, `${name}.*`, ...(at === index ? [part] : [])]
    const woken = settle?.wokenBy.some((key) => keys.includes(key))
    return woken ? bits | (1 << (at % WAKE_BITS)) : bits
  }, 0)
}

function planTimer(
  how: NonNullable<Definition['timers']>[string],
  slot: number,
  owner: number,
  rule: string,
  name: string,
  sight: (written: Sight) => Sight,
): TimerPlan {
  const {
    clock = 'play',
    band = 'effect',
    keyedBy = 'seat',
    seenBy = [],
    fire,
  } = typeof how === 'function' ? { fire: how } : how
  const handler = fire && { rule: owner, label: `${rule} timer ${name}`, run: fire }
  return {
    slot,
    owner,
    name,
    whole: `${rule}.${name}`,
    clock,
    band,
    keyedBy,
    sights: [seenBy].flat().map(sight),
    fire: handler,
  }
}

function planEvent(
  rule: number,
  definition: Definition,
  event: string,
  cells: Cells,
  generated: boolean,
): EventPlan {
  const name = `${definition.name}.${event}`
  const { lasts = NOTICE_LASTS, later = true, says } = definition.notices?.[event] ?? {}
  if (!Number.isSafeInteger(lasts) || lasts < 0)
    throw new RefereeError('ZR_RULE_BAD_NOTICE', { event: name, problem: `last ${String(lasts)} ms` })
  for (const [, cell = ''] of says?.matchAll(/\{(\w+)\}/g) ?? [])
    if (!(cell in cells))
      throw new RefereeError('ZR_RULE_BAD_NOTICE', { event: name, problem: `name the cell '${cell}'` })
  const facets = eventFacets(cells)
  if (facets.length > MAX_FACETS)
    throw new RefereeError('ZR_RULE_TOO_MANY_SIGHTS', { part: name, most: MAX_FACETS })
  const owned = facets.some(({ sights }) =>
    sights.some(({ who }) => who === 'owner' || who === 'side' || who === 'near'),
  )
  if (owned && cells['seat']?.kind !== 'seat')
    throw new RefereeError('ZR_RULE_EVENT_WITHOUT_OWNER', { event: name })
  const references = eventReferences(cells, name.split('.')[0] ?? '')
  const isForAll = facets.every(({ forAll }) => forAll)
  return {
    rule,
    name,
    cells,
    facets,
    isForAll,
    says,
    lasts,
    later,
    references,
    withDefaults: compileDefaults(name, cells, generated),
    handlers: [],
  }
}

function planDraft(
  definition: Definition,
  rule: number,
  number: number,
  draft: string,
  cells: Cells,
  generated: boolean,
): DraftPlan {
  const name = `${definition.name}.${draft}`
  const apply = definition.apply?.[draft] ?? (() => undefined)
  return {
    name,
    number,
    cells,
    Draft: draftClass(cells, generated),
    withDefaults: compileDefaults(name, cells, generated),
    amendments: [],
    bounded: Object.entries(cells).flatMap(([name, cell]) =>
      cell.kind === 'amount' && cell.least !== undefined ? { name, cell } : [],
    ),
    apply: { rule, label: `${name} apply`, run: apply },
  }
}
