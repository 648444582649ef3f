import type { ClientMatch, Described } from '@zinc-referee/venue/client'
import { useEffect, useState } from 'preact/hooks'
import type { AnyView } from 'zinc-referee'

type Known = Pick<Described, 'rules' | 'settings'>
const NONE: Known = { rules: [] }

/** The rules of a match as data, and for referees its settings; none until the venue has sent them. */
export function useRulebook<V extends AnyView>(match: ClientMatch<V>): Known {
  const [rulebook, show] = useState(NONE)
  useEffect(() => {
    match.describe().then(show, () => undefined)
  }, [match])
  return rulebook
}
