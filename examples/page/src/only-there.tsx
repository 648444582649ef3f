type Tree = { readonly [key: string]: unknown }

const isTree = (value: unknown): value is Tree =>
  typeof value === 'object' && value !== null && !Array.isArray(value)

/** Parts of a view that are not state. */
const besides: ReadonlySet<string> = new Set(['options', 'timers', 'settings'])

/** What one view has and another lacks, as "rule.part.cell", with how often. */
function onlyIn(theirs: Tree, mine: Tree): ReadonlyMap<string, number> {
  const counts = new Map<string, number>()
  const add = (name: string): void => {
    counts.set(name, (counts.get(name) ?? 0) + 1)
  }
  for (const [rule, parts] of Object.entries(theirs))
    for (const [part, rows] of Object.entries(isTree(parts) ? parts : {})) {
      if (!isTree(rows) || besides.has(part)) continue
      const own = mine[rule]
      const known = isTree(own) ? own[part] : undefined
      for (const [id, row] of Object.entries(rows)) {
        const before = isTree(known) ? known[id] : undefined
        if (!isTree(row)) {
          if (before === undefined) add(`${rule}.${part}.${id}`)
        } else
          for (const cell of Object.keys(row))
            if (!isTree(before) || !(cell in before)) add(`${rule}.${part}.${cell}`)
      }
    }
  return counts
}

/** Says what another viewer sees that you do not. */
export function OnlyThere({ theirs, mine }: { readonly theirs: object; readonly mine: object }) {
  const found = [...onlyIn(theirs as Tree, mine as Tree)] // views are plain objects
  const total = found.reduce((sum, [, count]) => sum + count, 0)
  if (total === 0) return <p class="only-there">Nothing that you do not see.</p>
  return (
    <details class="only-there">
      <summary>
        {total} {total === 1 ? 'thing' : 'things'} that you do not see
      </summary>
      <ul>
        {found.map(([name, count]) => (
          <li key={name}>
            {name}
            {count > 1 && ` (${count})`}
          </li>
        ))}
      </ul>
    </details>
  )
}
