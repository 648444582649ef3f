import { RefereeError, type Schema, validate } from '../kit/index.ts'
import { eventFacets } from '../sight/index.ts'
import {
  type Cells,
  compileFill,
  compileRow,
  everyone,
  nobody,
  owner,
  type Parse,
  prepareParse,
  reachOf,
  type Sight,
  side,
} from '../state/index.ts'
import { tiers } from './behaviour.ts'
import { type Definition, definitionOf } from './definition.ts'
import { factPlaces, type Gate, type GatePlace, gatePlaces } from './gates.ts'
import { draftClass } from './open-draft.ts'
import {
  type DraftPlan,
  type EventPlan,
  type GateCheck,
  type InputPlan,
  MOST_PARTS,
  type PartPlan,
  type Plan,
  type RulePlan,
  type SettlePlan,
  type TimerPlan,
} from './plan.ts'
import { settingsOf } from './settings.ts'
import type { InputSpec, RuleLike } from './spec.ts'
import { usableClass } from './usable.ts'

/** Settle handlers share these bits; one that is woken too often only looks in vain. */
const WAKE_BITS = 31

/** Compiles ordered rules into a plan. Names are checked here; needs and order are the rulebook's business. */
export function compilePlan(
  name: string,
  room: Plan['room'],
  rules: readonly RuleLike[],
  digest: (plan: Omit<Plan, 'digest'>) => string,
  generated: boolean,
): Plan {
  const definitions = rules.map(definitionOf)
  const planned = definitions.map((definition, index) =>
    planRule(definition, index, rules[index]?.given, definitions, generated),
  )
  const inputs = new Map<string, InputPlan>()
  for (const rule of planned)
    for (const input of inputsOf(rule, planned, generated)) inputs.set(input.name, input)
  for (const rule of planned) {
    for (const [key, run] of present(rule.definition.on, rule, planned))
      find(planned, rule, 'on', key, (r) => r.events).handlers.push({
        rule: rule.index,
        label: `${rule.name} on ${key}`,
        run,
      })
    for (const [key, run] of present(rule.definition.amend, rule, planned)) {
      const action = inputs.get(key)
      const target = action?.kind === 'action' ? action : find(planned, rule, 'amend', key, (r) => r.drafts)
      target.amendments.push({ rule: rule.index, label: `${rule.name} amend ${key}`, run })
    }
  }
  for (const { name: input, input: spec } of inputs.values()) assertTables(input, spec, planned)
  for (const { parts } of planned) for (const part of parts) assertReferences(part, planned)
  assertGroups(name, planned)
  const timers = planned.flatMap((rule) => [...rule.timers.values()])
  const plan = { name, room, rules: planned, inputs, timers, settle: settleOf(planned) }
  return { ...plan, digest: digest(plan) }
}

/** An input may name rows of tables that are there, and cannot hold what only the state can. */
function assertTables(input: string, spec: InputSpec, rules: readonly RulePlan[]): void {
  if ('~standard' in spec) return
  for (const [name, cell] of Object.entries(spec as Cells)) {
    if (cell.kind === 'set' || cell.kind === 'map')
      throw new RefereeError('ZR_RULE_STATE_ONLY', { where: input, cell: name, kind: cell.kind })
    const table = cell.table ?? cell.of?.table
    if (table === undefined) continue
    const whole = table.includes('.') ? table : `${input.split('.')[0]}.${table}`
    if (!hasTable(rules, whole)) throw new RefereeError('ZR_RULE_UNKNOWN_TABLE', { input, table })
  }
}

/** A cell of the state may name rows of tables that are there, and only a row can go with another. */
function assertReferences({ kind, shape }: PartPlan, rules: readonly RulePlan[]): void {
  const part = shape.path.slice(1).replace('/', '.')
  for (const { name: cell, reference } of shape.each) {
    if (reference === undefined) continue
    const bad = (why: string): never => {
      throw new RefereeError('ZR_RULE_BAD_REFERENCE', { part, cell, why })
    }
    if (!hasTable(rules, reference.table))
      bad(`there is no table '${reference.table}'. Mend the name in rowOf(…)`)
    if (reference.gone === 'cascade' && kind !== 'table')
      bad("a row of 'perSeat' or 'single' cannot go with another: say 'clear' or 'forbid'")
  }
}

/** Cells are seen by groups that are there, and one rule at most says who is on whose side. */
function assertGroups(rulebook: string, rules: readonly RulePlan[]): void {
  const cells = rules.flatMap(({ parts, events }) => [
    ...parts.flatMap(({ shape }) => Object.values(shape.cells)),
    ...[...events.values()].flatMap((event) => Object.values(event.cells)),
  ])
  for (const { group } of cells.flatMap(({ sights }) => sights)) {
    const [rule, name = ''] = group?.split('.') ?? []
    const { groups = {} } = rules.find((each) => each.name === rule)?.definition ?? {}
    if (group !== undefined && !Object.hasOwn(groups, name))
      throw new RefereeError('ZR_SIGHT_UNKNOWN_GROUP', { group })
  }
  const sided = rules.filter(({ definition }) => definition.sides !== undefined).map(({ name }) => name)
  if (sided.length > 1) throw new RefereeError('ZR_RULEBOOK_TWO_SIDES', { rulebook, rules: sided })
}

function hasTable(rules: readonly RulePlan[], table: string): boolean {
  const [rule, part] = table.split('.')
  return rules.some(
    ({ name, parts }) => name === rule && parts.some((each) => each.name === part && each.kind === 'table'),
  )
}

/** Handlers but for those of rules that are only known of and not in this rulebook. */
function present<H>(
  handlers: { readonly [key: string]: H } = {},
  { definition }: RulePlan,
  rules: readonly RulePlan[],
): [string, H][] {
  const missing = (definition.knows ?? []).filter(({ name }) => !rules.some((rule) => rule.name === name))
  return Object.entries(handlers).filter(([key]) => !missing.some(({ name }) => key.startsWith(`${name}.`)))
}

function find<P>(
  rules: readonly RulePlan[],
  rule: RulePlan,
  part: string,
  key: string,
  among: (rule: RulePlan) => ReadonlyMap<string, P>,
): P {
  const at = key.indexOf('.')
  const other = rules.find((each) => each.name === key.slice(0, at))
  const found = other === undefined ? undefined : among(other).get(key.slice(at + 1))
  if (found !== undefined) return found
  const known = rules.flatMap((each) => [...among(each).keys()].map((name) => `${each.name}.${name}`))
  throw new RefereeError('ZR_RULE_UNKNOWN_HANDLER', { rule: rule.name, part, key, known })
}

function planRule(
  definition: Definition,
  index: number,
  given: unknown,
  all: readonly Definition[],
  generated: boolean,
): RulePlan {
  const { name } = definition
  const firstSlot = all.slice(0, index).reduce((sum, { timers = {} }) => sum + Object.keys(timers).length, 0)
  const settings = settingsOf({ name, definition, given }, {})
  const fixed = new Set<string>()
  const parts = Object.entries(definition.state ?? {}).map(
    ([part, { part: kind, cells, span, owner, policies, indexed }], at) => ({
      name: part,
      kind,
      span,
      shape: compileRow(
        {
          path: `/${name}/${part}`,
          keyed: kind !== 'single',
          cells: sighted(name, cells, settings, fixed),
          wakes: wakesOf(all, index, part),
          place: index * MOST_PARTS + at,
          drawn: kind === 'table',
          owner,
          policies,
          indexed,
        },
        generated,
      ),
    }),
  )
  const drafts = new Map(
    Object.entries(definition.drafts ?? {}).map(([draft, cells]) => [
      draft,
      planDraft(definition, index, draft, cells, generated),
    ]),
  )
  return {
    index,
    name,
    definition,
    given,
    parts,
    fixed,
    timers: new Map(
      Object.entries(definition.timers ?? {}).map(([timer, how], at) => [
        timer,
        planTimer(how, firstSlot + at, index, name, timer, sightsOf(name, settings, fixed)),
      ]),
    ),
    events: new Map(
      Object.entries(definition.events ?? {}).map(([event, cells]) => [
        event,
        planEvent(index, `${name}.${event}`, sighted(name, cells, settings, fixed), generated),
      ]),
    ),
    drafts,
    Used: usableClass({ definition, drafts }),
    changed: definition.changed && { rule: index, label: `${name} changed`, run: definition.changed },
    setUp: definition.setUp && { rule: index, label: `${name} setUp`, run: definition.setUp },
  }
}

const namedSights: ReadonlyMap<unknown, Sight> = new Map(Object.entries({ everyone, side, owner, nobody }))

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

/** The bits of the settle handlers that a change of this part wakes. */
function wakesOf(all: readonly Definition[], index: number, part: string): number {
  return all.reduce((bits, { settle }, at) => {
    const woken = settle?.wokenBy.some(
      (key) => key === `${all[index]?.name}.${part}` || (at === index && key === part),
    )
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
    seenBy = [],
    fire,
  } = typeof how === 'function' ? { fire: how } : how
  const handler = fire && { rule: owner, label: `${rule} timer ${name}`, run: fire }
  return { slot, owner, name, clock, band, sights: [seenBy].flat().map(sight), fire: handler }
}

function planEvent(rule: number, name: string, cells: Cells, generated: boolean): EventPlan {
  const facets = eventFacets(cells)
  const owned = facets.some(({ sights }) => sights.some(({ who }) => who === 'owner' || who === 'side'))
  if (owned && cells['seat']?.kind !== 'seat')
    throw new RefereeError('ZR_RULE_EVENT_WITHOUT_OWNER', { event: name })
  return { rule, name, cells, facets, fill: compileFill(name, cells, generated), handlers: [] }
}

function planDraft(
  definition: Definition,
  rule: number,
  draft: string,
  cells: Cells,
  generated: boolean,
): DraftPlan {
  const name = `${definition.name}.${draft}`
  const apply = definition.apply?.[draft] ?? (() => undefined)
  return {
    name,
    cells,
    Draft: draftClass(cells),
    fill: compileFill(name, cells, generated),
    amendments: [],
    amounts: Object.keys(cells).filter((cell) => cells[cell]?.kind === 'amount'),
    apply: { rule, label: `${name} apply`, run: apply },
  }
}

function inputsOf(
  { name: rule, definition, index }: RulePlan,
  rules: readonly RulePlan[],
  generated: boolean,
): InputPlan[] {
  const { actions = {}, facts = {}, directives = {} } = definition
  const common = (input: string, spec: InputSpec) => ({
    name: `${rule}.${input}`,
    input: spec,
    parse: parserOf(`${rule}.${input}`, spec, rule, generated),
    bySchema: '~standard' in spec,
    amendments: [],
    options: undefined,
  })
  return [
    ...Object.entries(actions).map(
      ([key, { input, when = [], offered = false, options, decide }]): InputPlan => ({
        ...common(key, input),
        kind: 'action',
        offered,
        gates: gatesOf(rule, key, [when].flat(), rules),
        handler: { rule: index, label: `${rule} action ${key}`, run: decide },
        options: options && { rule: index, label: `${rule} options ${key}`, run: options },
      }),
    ),
    ...Object.entries(facts).map(
      ([key, { input, hear }]): InputPlan => ({
        ...common(key, input),
        kind: 'fact',
        gates: gatesOf(rule, key, [], rules, factPlaces),
        handler: { rule: index, label: `${rule} fact ${key}`, run: hear },
      }),
    ),
    ...Object.entries(directives).map(
      ([key, { input, obey }]): InputPlan => ({
        ...common(key, input),
        kind: 'directive',
        gates: [],
        handler: { rule: index, label: `${rule} directive ${key}`, run: obey },
      }),
    ),
  ]
}

function parserOf(name: string, spec: InputSpec, rule: string, generated: boolean): Parse {
  if (!('~standard' in spec)) return prepareParse(spec as Cells, rule, generated)
  return (value) => {
    const outcome = validate(spec as Schema<unknown, unknown>, value, name)
    return 'issues' in outcome
      ? { ok: false, issues: outcome.issues }
      : { ok: true, input: Object(outcome.value) }
  }
}

/** In the order of their places: the gates it asks for, and those that stand before every action and fact. */
function gatesOf(
  rule: string,
  action: string,
  asked: readonly Gate[],
  rules: readonly RulePlan[],
  places: readonly GatePlace[] = gatePlaces,
): GateCheck[] {
  const all = rules.flatMap((each) =>
    Object.entries(each.definition.gates ?? {}).map(([gate, how]) => ({
      name: `${each.name}.${gate}`,
      index: each.index,
      ...how,
    })),
  )
  for (const { gate } of asked)
    if (!all.some(({ name }) => name === gate))
      throw new RefereeError('ZR_RULE_UNKNOWN_GATE', { rule, action, gate })
  return places.flatMap((place) => {
    const here = all.filter((gate) => gate.place === place)
    const named = asked.filter(({ gate }) => here.some(({ name }) => name === gate))
    return here.flatMap(({ name, index, applies = 'asked', check, accepted }): GateCheck[] => {
      const given = asked.filter(({ gate }) => gate === name).map((gate) => gate.given)
      if (applies === 'always' || (applies === 'unasked' && named.length === 0)) given.push([])
      const took = accepted && { rule: index, label: `${name} gate accepted`, run: accepted }
      return given.map((each) => ({
        rule: index,
        label: `${name} gate`,
        gate: name,
        given: each,
        blank: { seat: undefined, lives: undefined, given: each },
        run: check,
        accepted: took,
      }))
    })
  })
}

function settleOf(rules: readonly RulePlan[]): SettlePlan[][] {
  return tiers.map((tier) =>
    rules.flatMap(({ index, name, definition: { settle } }) =>
      settle !== undefined && (settle.tier ?? 'upkeep') === tier
        ? [{ rule: index, label: `${name} settle`, bit: 1 << (index % WAKE_BITS), run: settle.run }]
        : [],
    ),
  )
}
