import type { Cause, Explanation, Timeline, Track } from 'zinc-referee/testing'
import { SeenBy } from './views.ts'

/** A record as the page gets it. */
export type Looked = Timeline & { readonly file: string }
export type Why = Explanation & { readonly short: readonly Cause[] }

/** Asks the command that serves this page. @throws an error that says what is wrong with the question */
async function asked<T>(path: string): Promise<T> {
  const answer = await fetch(path)
  const body = await answer.json()
  if (!answer.ok) throw new Error(body.error)
  return body
}

export const timeline = (): Promise<Looked> => asked('timeline')

export const whyIs = (question: string): Promise<Why> => asked(`why?question=${encodeURIComponent(question)}`)

const known: Map<string, SeenBy> = new Map()

/** What these viewers saw. Each is fetched once. */
export async function seenBy(viewers: readonly string[]): Promise<readonly SeenBy[]> {
  const missing = viewers.filter((viewer) => !known.has(viewer))
  if (missing.length > 0)
    for (const track of await asked<readonly Track[]>(`tracks?viewers=${missing.join(',')}`))
      known.set(track.viewer, new SeenBy(track))
  return viewers.flatMap((viewer) => known.get(viewer) ?? [])
}
