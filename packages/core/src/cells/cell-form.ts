import { canonicalJson } from '../kit/index.ts'
import type { AnyCell } from './cell.ts'
import { editList, editMembers, editWhole } from './edits.ts'
import { SettledMap, SettledSet } from './settled.ts'

/** Stores the values of a kind of cell and writes them for others. */
export interface CellForm {
  /** The value as stored: copied and frozen if it could be changed from outside. */
  keep(value: unknown): unknown
  /** Its JSON text in a view and in the hash. */
  text(kept: unknown): string
  /** Plain JSON for a snapshot, and back. */
  save(kept: unknown): unknown
  load(saved: unknown): unknown
  /**
   * Operations that turn one value into the next, at a path inside a JSON text. Returns nothing if it is replaced as
   * a whole.
   */
  readonly edit?: (path: string, was: unknown, now: unknown) => string
}

const asText = (value: unknown): string => (value === undefined ? 'null' : JSON.stringify(value))
const scalar: CellForm = {
  keep: (value) => value,
  text: asText,
  save: (kept) => kept ?? null,
  load: (saved) => saved ?? undefined,
}

/** The form of a cell. A maybe has the form of the cell inside. */
export function formOf(cell: AnyCell): CellForm {
  switch (cell.kind) {
    case 'int':
    case 'num':
    case 'time':
      return { ...scalar, keep: (value) => (value === 0 ? 0 : value) } // no negative zero
    case 'list':
      return listForm(itemIn(cell))
    case 'set':
      return setForm
    case 'map':
      return mapForm(itemIn(cell))
    case 'json':
      return {
        ...scalar,
        keep: (value) => (value === undefined ? value : closed(JSON.parse(canonicalJson(value)))),
        load: (saved) => saved, // null is a value of its own
      }
    case 'maybe':
      return optional(inside(cell), cell.of?.kind === 'json')
    default:
      return scalar
  }
}

const inside = ({ of }: AnyCell): CellForm => (of === undefined ? scalar : formOf(of))

/** In a list, nothing is null: it can't be left out. */
const itemIn = ({ of }: AnyCell): CellForm =>
  of === undefined ? scalar : of.kind === 'maybe' ? optional(inside(of), false) : formOf(of)

/** `hasNull`: null is a value, and nothing is left out when it is saved. */
function optional(form: CellForm, hasNull: boolean): CellForm {
  const { edit } = form
  return {
    keep: (value) => (value === undefined ? undefined : form.keep(value)),
    text: (kept) => (kept === undefined ? 'null' : form.text(kept)),
    save: (kept) => (kept === undefined ? null : form.save(kept)),
    load: (saved) => (saved === undefined || (saved === null && !hasNull) ? undefined : form.load(saved)),
    ...(edit && {
      edit: (path, was, now) => {
        const known = was !== undefined && now !== undefined
        return known ? edit(path, was, now) : editWhole(path, now === undefined ? 'null' : form.text(now))
      },
    }),
  }
}

function listForm(form: CellForm): CellForm {
  const items = (kept: unknown): readonly unknown[] => kept as readonly unknown[]
  const texts = (kept: unknown): string[] => items(kept).map((item) => form.text(item))
  return {
    keep: (value) => Object.freeze(items(value).map((item) => form.keep(item))),
    text: (kept) => `[${texts(kept).join(',')}]`,
    save: (kept) => items(kept).map((item) => form.save(item)),
    load: (saved) => items(saved).map((item) => form.load(item)),
    edit: (path, was, now) => editList(path, texts(was), texts(now)),
  }
}

const setForm: CellForm = {
  keep: (value) => new SettledSet(value as ReadonlySet<string | number>),
  text: (kept) => object(members(kept)),
  save: (kept) => [...(kept as ReadonlySet<unknown>)],
  load: (saved) => new Set(saved as readonly unknown[]),
  edit: (path, was, now) => editMembers(path, members(was), members(now)),
}
const members = (kept: unknown): ReadonlyMap<string, string> =>
  new Map([...(kept as ReadonlySet<unknown>)].map((item) => [String(item), 'true']))

function mapForm(form: CellForm): CellForm {
  const entries = (kept: unknown): readonly (readonly [string, unknown])[] => [
    ...(kept as ReadonlyMap<string, unknown>),
  ]
  const texts = (kept: unknown): ReadonlyMap<string, string> =>
    new Map(entries(kept).map(([key, value]) => [key, form.text(value)]))
  return {
    keep: (value) => new SettledMap(entries(value).map(([key, item]) => [key, form.keep(item)])),
    text: (kept) => object(texts(kept)),
    save: (kept) => entries(kept).map(([key, value]) => [key, form.save(value)]),
    load: (saved) =>
      new Map(
        (saved as readonly (readonly [string, unknown])[]).map(([key, value]) => [key, form.load(value)]),
      ),
    edit: (path, was, now) => editMembers(path, texts(was), texts(now)),
  }
}

const object = (texts: ReadonlyMap<string, string>): string =>
  `{${[...texts].map(([key, value]) => `${JSON.stringify(key)}:${value}`).join(',')}}`

function closed(value: unknown): unknown {
  if (typeof value === 'object' && value !== null) for (const inner of Object.values(value)) closed(inner)
  return Object.freeze(value)
}
