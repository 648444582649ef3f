import type { RulebookDescription } from 'zinc-referee'

/** A notice in the words of its rule, or its name and what it holds. Seats and rows go by their names. */
export function noticeText(
  { rules }: Pick<RulebookDescription, 'rules'>,
  name: string,
  cells: { readonly [cell: string]: unknown },
  nameOf: (id: string) => string,
): string {
  const [rule = '', event = ''] = name.split('.')
  const says = rules.find((each) => each.name === rule)?.events[event]?.says
  const shown = (value: unknown): string =>
    [value]
      .flat()
      .map((each) => nameOf(String(each)))
      .join(', ')
  if (says !== undefined)
    return says.replaceAll(/\{(\w+)\}/g, (_all, cell: string) => shown(cells[cell] ?? ''))
  const held = Object.values(cells).filter((value) => value !== null)
  return [`${rule} ${event}`, ...held.map(shown)].join(' ')
}
