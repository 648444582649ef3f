/** What had another name when the records beside were made: by rule, members of its state and its events. */
const renamed: { readonly [rule: string]: { readonly [before: string]: string } } = {
  roster: { out: 'sidelined' },
  credit: { downs: 'deaths' },
  errands: { task: 'errand' },
  brewery: { task: 'errand' },
}
/** Whole texts: where a seat is, and the code for one that has left. */
const texts: { readonly [before: string]: string } = { gone: 'left' }

const now = (rule: string, name: string): string => renamed[rule]?.[name] ?? name

/** A path as it is now, such as "/roster/seats/otter/sidelined". */
const path = (text: string): string => {
  const [, rule = '', ...rest] = text.split('/')
  return ['', rule, ...rest.map((each) => now(rule, each))].join('/')
}
/** The name of an event or an input as it is now, such as "roster.sidelined". */
const dotted = (text: string): string => {
  const [rule = '', ...rest] = text.split('.')
  return [rule, ...rest.map((each) => now(rule, each))].join('.')
}
const ruleOf = (text: string): string => /^\/?([\w-]+)/.exec(text)?.[1] ?? ''

/** Returns a line of an older record with the names of today; `rule` is whose members are meant. */
export function withNamesOfToday(value: unknown, rule = ''): unknown {
  if (typeof value === 'string')
    return (
      texts[value] ??
      (value.startsWith('/') ? path(value) : /^\w+\.[\w-]+$/.test(value) ? dotted(value) : value)
    )
  if (Array.isArray(value)) {
    const input = value.find((each) => typeof each === 'string' && each.includes('.'))
    return value.map((each) => withNamesOfToday(each, input === undefined ? rule : ruleOf(input)))
  }
  if (typeof value !== 'object' || value === null) return value
  const { path: at, name } = value as { readonly path?: string; readonly name?: string }
  const own = ruleOf(at ?? (name?.includes('.') ? name : '')) || rule
  return Object.fromEntries(
    Object.entries(value).map(([key, each]) => [
      now(own, key),
      withNamesOfToday(each, key in renamed ? key : own),
    ]),
  )
}

/** Cells that views have since then. */
const added = ['thaws', 'pausedBy', 'pausedUntil', 'pauses'].map((cell) => ({ part: '/phases/now', cell }))

/** Returns a view of today without the cells that it did not have. */
export function withoutAdded<V>(view: V): V {
  for (const { part, cell } of added) {
    const row = part
      .split('/')
      .slice(1)
      .reduce<unknown>((at, key) => Object(at)[key], view)
    Reflect.deleteProperty(Object(row), cell)
  }
  return view
}
