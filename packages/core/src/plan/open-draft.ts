import type { Cells, Seat, Values } from '../cells/index.ts'
import { generate } from '../kit/index.ts'
import { AmendedAmount } from '../rule/index.ts'
import type { Handler } from './handler.ts'

type After = Handler<[], void>

/** The draft that amendments get. They change amounts through its methods and read the rest. */
export class OpenDraft {
  readonly $filled: Values
  readonly $name: string
  /** Made when an amendment asks for one. */
  $amounts: Map<string, AmendedAmount> | undefined
  $after: After[] | undefined
  $targets: Set<Seat> | undefined
  /** The rule whose amendment runs. */
  $rule = 0

  constructor(name: string, filled: Values) {
    this.$name = name
    this.$filled = filled
  }

  whenApplied(run: After['run']): void {
    this.$after ??= []
    this.$after.push({ rule: this.$rule, label: `${this.$name} whenApplied`, run })
  }

  /** The values with their amounts as amended. */
  $settled(): Values {
    if (this.$amounts === undefined) return this.$filled
    const settled: Record<string, unknown> = { ...this.$filled }
    for (const [cell, amount] of this.$amounts) settled[cell] = amount.settled()
    return settled
  }
}

export type DraftClass = new (name: string, filled: Values) => OpenDraft

/** The class of the drafts of one kind: it has their cells, and no way to write them. */
export function draftClass(cells: Cells, generated: boolean): DraftClass {
  const Draft = generated ? generatedDraft(cells) : class extends OpenDraft {}
  for (const [name, { kind, least, most }] of Object.entries(cells))
    if (kind === 'amount' || !generated)
      Object.defineProperty(Draft.prototype, name, {
        get(this: OpenDraft) {
          if (kind !== 'amount') return this.$filled[name]
          this.$amounts ??= new Map()
          const made = this.$amounts.get(name) ?? new AmendedAmount(this.$filled[name] as number, least, most)
          this.$amounts.set(name, made)
          return made
        },
      })
  if ('target' in cells)
    Object.defineProperty(Draft.prototype, 'redirect', {
      value(this: OpenDraft, target: Seat) {
        this.$targets ??= new Set()
        this.$targets.add(target)
      },
    })
  return Draft
}

function generatedDraft(cells: Cells): DraftClass {
  const plain = Object.keys(cells).filter((name) => cells[name]?.kind !== 'amount')
  const getters = plain.map((name) => `get ${name}() { return this.$filled.${name} }`).join('\n')
  const Draft = generate<DraftClass>(
    {},
    `class {
    constructor(name, filled) {
      this.$filled = filled; this.$name = name
      this.$amounts = undefined; this.$after = undefined; this.$targets = undefined; this.$rule = 0
    }
    ${getters}
  }`,
  )
  // Not 'extends': constructing a derived class costs more than the rest of a draft.
  Object.setPrototypeOf(Draft.prototype, OpenDraft.prototype)
  return Draft
}
