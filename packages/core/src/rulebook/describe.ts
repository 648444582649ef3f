import type { AnyCell, Cells, Masks, Sight } from '../cells/index.ts'
import type { ClockName } from '../kit/index.ts'
import type { InputPlan, PlanBody } from '../plan/index.ts'
import type { Disclosure, InputSpec, RefusalTexts, Tier } from '../rule/index.ts'

/** A cell as data: what a page needs to draw a field for it. */
export interface CellDescription {
  /** The kind of the cell. */
  readonly kind: AnyCell['kind']
  /** Who sees it: everyone, its owner, some or nobody. */
  readonly seenBy: AnyCell['reach']
  /** Whom its sights name: 'owner', 'side', groups such as `roles.spoilers`. */
  readonly by?: readonly string[]
  /** Who gets a mask in its place. */
  readonly maskedFor?: string
  /** What happens to the cell when the row that it refers to is removed. */
  readonly whenGone?: string
  /** The table of a row reference, as declared: with a rule's name, or of the rule itself. */
  readonly table?: string
  /** True if a value must be given. */
  readonly required?: true
  /** The values of a choice. */
  readonly values?: readonly string[]
  /** The smallest value, or the shortest length of a list. */
  readonly least?: number
  /** The largest value, or the greatest length of a list. */
  readonly most?: number
  /** The clock on which a moment is read. */
  readonly clock?: ClockName
  /** Sent at most once in this many ms. */
  readonly every?: number
  /** The cell inside a list, set, map or maybe. */
  readonly of?: CellDescription
}
/** Descriptions of cells, by the name of the cell. */
export type CellDescriptions = { readonly [cell: string]: CellDescription }
/** An action, fact or directive, as data. */
export interface InputDescription {
  /** Its full name, such as 'raft.search'. */
  readonly name: string
  /** Its cells; nothing if the input is declared with a schema instead. */
  readonly cells?: CellDescriptions
  /** True if there are candidates: `match.options` returns those that would be accepted. */
  readonly offers?: true
  /** True if a seat's options are in its view. */
  readonly offered?: true
}
/** A rule of a rulebook, as data. */
export interface RuleDescription {
  /** The name of the rule. */
  readonly name: string
  /** The names of the rules that it needs. */
  readonly needs: readonly string[]
  /** Its state: the cells of each part. */
  readonly state: {
    readonly [part: string]: {
      readonly kind: string
      readonly span: string
      readonly cells: CellDescriptions
      /** What views show besides the cells, and who gets it. */
      readonly derived?: { readonly [name: string]: string }
    }
  }
  /** What players may do. */
  readonly actions: readonly InputDescription[]
  /** What the game server may report. */
  readonly facts: readonly InputDescription[]
  /** What a host or a referee may order. */
  readonly directives: readonly InputDescription[]
  /** Its timers, by name. */
  readonly timers: readonly {
    readonly name: string
    readonly clock: ClockName
    readonly band: string
    readonly keyedBy: string
    /** Who sees when it is due. */
    readonly seenBy?: readonly string[]
  }[]
  /** Groups of seats that see a cell. */
  readonly groups?: readonly string[]
  /** For each part, the cells that the sight audit may change by themselves. */
  readonly varies?: { readonly [part: string]: readonly string[] }
  /** Other states that it offers to the sight audit, by name. */
  readonly variations?: readonly string[]
  /** Texts of the codes that it refuses with. */
  readonly refusals?: RefusalTexts
  /** What it reveals of secrets on purpose. */
  readonly discloses?: readonly Disclosure[]
  /** When the rule settles, and which parts of the state wake it. */
  readonly settles?: { readonly tier: string; readonly wokenBy: readonly string[] }
  /** What it announces, with the cells of each. */
  readonly events: {
    readonly [event: string]: {
      readonly cells: CellDescriptions
      readonly handledBy: readonly string[]
      /** What its notices say, with cells in braces. */
      readonly says?: string
    }
  }
  /** Decisions that other rules may change or refuse. */
  readonly drafts: {
    readonly [draft: string]: { readonly cells: CellDescriptions; readonly amendedBy: readonly string[] }
  }
}
/** The plan of a rulebook as data: what it has and who handles it, in order. */
export interface RulebookDescription {
  /** The name of the rulebook. */
  readonly name: string
  /** The smallest and the largest number of seats. */
  readonly seats: { readonly min: number; readonly max: number }
  /** Its rules, those that others need first. */
  readonly rules: readonly RuleDescription[]
  /**
   * Declared names that nothing in the rulebook uses: events that nobody handles or sees, gates that no action names,
   * groups that no cell or timer uses.
   */
  readonly unused: readonly string[]
}

/** True if the candidates are what the cells of an action allow. An action without cells has nothing to choose. */
const hasCandidates = (spec: InputSpec, plan: { readonly kind: string; readonly isListable?: boolean }) =>
  plan.kind === 'action' && plan.isListable === true && Object.keys(spec).length > 0

export function describePlan(plan: PlanBody): RulebookDescription {
  const { name, seatLimits, rules, inputs } = plan
  const ofRule = (rule: string, kind: InputPlan['kind']): InputDescription[] =>
    [...inputs.values()]
      .filter((input) => input.kind === kind && input.name.startsWith(`${rule}.`))
      .map(({ name: input, input: spec, options, ...plan }) => ({
        name: input,
        ...(plan.kind === 'action' && plan.offered ? { offered: true as const } : {}),
        ...('~standard' in spec ? {} : { cells: describeCells(spec as Cells) }),
        ...(options !== undefined || hasCandidates(spec, plan) ? { offers: true as const } : {}),
      }))
  const labels = (handlers: readonly { readonly label: string }[]): string[] =>
    handlers.map(({ label }) => label.split(' ')[0] ?? label)
  return {
    name,
    seats: seatLimits,
    unused: unusedOf(plan),
    rules: rules.map((rule) => ({
      name: rule.name,
      needs: (rule.definition.needs ?? []).map((need) => need.name),
      state: Object.fromEntries(
        rule.parts.map((part) => [
          part.name,
          {
            kind: part.kind,
            span: part.span,
            cells: describeCells(
              part.shape.cells,
              rule.definition.state?.[part.name]?.policies,
              rule.definition.state?.[part.name]?.masks,
            ),
            ...derivedOf(part.shape.cells, rule.definition.state?.[part.name]?.masks),
          },
        ]),
      ),
      actions: ofRule(rule.name, 'action'),
      facts: ofRule(rule.name, 'fact'),
      directives: ofRule(rule.name, 'directive'),
      timers: [...rule.timers].map(([timer, { clock, band, keyedBy, sights }]) => ({
        name: timer,
        clock,
        band,
        keyedBy,
        ...(sights.length > 0 && { seenBy: sights.map(sightName) }),
      })),
      ...(rule.definition.varies && { varies: rule.definition.varies }),
      ...(rule.definition.variations && { variations: Object.keys(rule.definition.variations) }),
      ...(rule.definition.refusals && { refusals: rule.definition.refusals }),
      ...(rule.definition.discloses && { discloses: rule.definition.discloses }),
      ...(rule.definition.groups && { groups: Object.keys(rule.definition.groups) }),
      ...(rule.definition.settle && { settles: describeSettle(rule.definition.settle) }),
      events: Object.fromEntries(
        [...rule.events].map(([event, { cells, handlers, says }]) => [
          event,
          { cells: describeCells(cells), handledBy: labels(handlers), ...(says !== undefined && { says }) },
        ]),
      ),
      drafts: Object.fromEntries(
        [...rule.drafts].map(([draft, { cells, amendments }]) => [
          draft,
          { cells: describeCells(cells), amendedBy: labels(amendments) },
        ]),
      ),
    })),
  }
}

function unusedOf({ rules, inputs, timers }: PlanBody): string[] {
  const events = rules.flatMap((rule) => [...rule.events.values()])
  const asked = new Set([...inputs.values()].flatMap(({ gates }) => gates.map(({ gate }) => gate)))
  const cells = [
    ...rules.flatMap(({ parts }) => parts.flatMap(({ shape }) => Object.values(shape.cells))),
    ...events.flatMap((event) => Object.values(event.cells)),
  ]
  const seen = new Set(
    [...cells, ...timers].flatMap(({ sights }) => sights.flatMap(({ group }) => group ?? [])),
  )
  const named = (part: 'gates' | 'groups'): string[] =>
    rules.flatMap(({ name, definition }) =>
      Object.keys(definition[part] ?? {}).map((key) => `${name}.${key}`),
    )
  return [
    ...events.flatMap(({ name, facets, handlers }) =>
      facets.length + handlers.length === 0 ? `event ${name}` : [],
    ),
    ...named('gates').flatMap((gate) => (asked.has(gate) ? [] : `gate ${gate}`)),
    ...named('groups').flatMap((group) => (seen.has(group) ? [] : `group ${group}`)),
  ]
}

/** A cell with a policy is seen by some, depending on its row. */
const describeSettle = ({
  tier = 'upkeep',
  wokenBy,
}: {
  readonly tier?: Tier
  readonly wokenBy: readonly string[]
}) => ({
  tier,
  wokenBy,
})

const describeCells = (cells: Cells, policies: object = {}, masks: Masks = {}): CellDescriptions =>
  Object.fromEntries(
    Object.entries(cells).map(([name, cell]) => {
      const mask = masks[name]
      return [
        name,
        {
          ...describeCell(cell),
          ...(name in policies && { seenBy: 'some' as const }),
          ...(mask && { maskedFor: sightName(mask.to) }),
        },
      ]
    }),
  )

function derivedOf(
  cells: Cells,
  masks: Masks = {},
): { readonly derived?: { readonly [name: string]: string } } {
  const derived = Object.entries(masks).filter(([name]) => !(name in cells))
  return derived.length === 0
    ? {}
    : { derived: Object.fromEntries(derived.map(([name, { to }]) => [name, sightName(to)])) }
}

const sightName = ({ who, group = who ?? 'nobody' }: Sight): string => group

function describeCell({
  kind,
  reach,
  sights,
  gone,
  required,
  values,
  least,
  most,
  every,
  clock,
  table,
  of,
}: AnyCell): CellDescription {
  return {
    kind,
    seenBy: reach,
    ...(table !== undefined && { table }),
    ...(reach === 'some' ? { by: sights.map(sightName) } : {}),
    ...(of?.kind === 'row' || kind === 'row' ? { whenGone: gone ?? 'forbid' } : {}),
    ...(required ? { required: true } : {}),
    ...(values === undefined ? {} : { values }),
    ...(least === undefined ? {} : { least }),
    ...(most === undefined ? {} : { most }),
    ...(every === undefined ? {} : { every }),
    ...(clock === undefined ? {} : { clock }),
    ...(of === undefined ? {} : { of: describeCell(of) }),
  }
}
