import { type ComponentChildren, createContext } from 'preact'
import { useContext } from 'preact/hooks'
import './only-there.css'

type Tree = { readonly [key: string]: unknown }

const isTree = (value: unknown): value is Tree =>
  typeof value === 'object' && value !== null && !Array.isArray(value)

/** Parts of a view that are not state. */
const besides: ReadonlySet<string> = new Set(['options', 'timers', 'settings'])

/** Returns the cells that one view has and another lacks, as "rule.part.row.cell", or "rule.part.cell" without rows. */
function onlyIn(theirs: Tree, mine: Tree): ReadonlySet<string> {
  const found = new Set<string>()
  for (const [rule, parts] of Object.entries(theirs))
    for (const [part, rows] of Object.entries(isTree(parts) ? parts : {})) {
      if (!isTree(rows) || besides.has(part)) continue
      const own = mine[rule]
      const known = isTree(own) ? own[part] : undefined
      for (const [id, row] of Object.entries(rows)) {
        const before = isTree(known) ? known[id] : undefined
        if (isTree(row)) {
          for (const cell of Object.keys(row))
            if (!isTree(before) || !(cell in before)) found.add(`${rule}.${part}.${id}.${cell}`)
        } else if (before === undefined) found.add(`${rule}.${part}.${id}`)
      }
    }
  return found
}

const Found = createContext<ReadonlySet<string>>(new Set())

/** Says what another viewer sees that you do not, and marks it in what that viewer sees. */
export function ComparedWith({
  mine,
  theirs,
  children,
}: {
  readonly mine: object
  readonly theirs: object
  readonly children: ComponentChildren
}) {
  const found = onlyIn(theirs as Tree, mine as Tree) // views are plain objects
  return (
    <>
      <OnlyThere found={found} />
      <Found.Provider value={found}>{children}</Found.Provider>
    </>
  )
}

/** Returns what tells whether only the other viewer sees a cell, such as "raft.hold.otter.cargo". */
export function useOnlyTheirs(): (cell: string) => boolean {
  const found = useContext(Found)
  return (cell) => found.has(cell)
}

/** The value of a cell, marked where only the other viewer sees it. */
export function OnlyTheirs({
  cell,
  children,
}: {
  readonly cell: string
  readonly children: ComponentChildren
}) {
  const isTheirs = useOnlyTheirs()
  return isTheirs(cell) ? (
    <mark class="only-theirs" title="You do not see this">
      {children}
    </mark>
  ) : (
    children
  )
}

function OnlyThere({ found }: { readonly found: ReadonlySet<string> }) {
  if (found.size === 0) return <p class="only-there">Nothing that you do not see.</p>
  const counts = new Map<string, number>()
  for (const cell of found) {
    const [rule, part, ...rest] = cell.split('.')
    const name = `${rule}.${part}.${rest.at(-1)}`
    counts.set(name, (counts.get(name) ?? 0) + 1)
  }
  return (
    <details class="only-there">
      <summary>
        {found.size} {found.size === 1 ? 'thing' : 'things'} that you do not see; what is drawn of them is
        marked
      </summary>
      <ul>
        {[...counts].map(([name, count]) => (
          <li key={name}>
            {name}
            {count > 1 && ` (${count})`}
          </li>
        ))}
      </ul>
    </details>
  )
}
