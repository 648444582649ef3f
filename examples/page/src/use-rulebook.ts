import type { ClientMatch } from '@zinc-referee/venue/client'
import { useEffect, useState } from 'preact/hooks'
import type { AnyView, RulebookDescription } from 'zinc-referee'

const NONE: Pick<RulebookDescription, 'rules'> = { rules: [] }

/** The rules of a match as data; none until the venue has sent them. */
export function useRulebook<V extends AnyView>(match: ClientMatch<V>): Pick<RulebookDescription, 'rules'> {
  const [rulebook, show] = useState(NONE)
  useEffect(() => {
    match.describe().then(show, () => undefined)
  }, [match])
  return rulebook
}
