import { useEffect, useState } from 'preact/hooks'

interface Listed {
  readonly id: string
  readonly mode: string
}

/** The matches of the venue; none until it has answered, or where it does not say. */
export function useMatches(): readonly Listed[] {
  const [matches, list] = useState<readonly Listed[]>([])
  useEffect(() => {
    fetch('/matches')
      .then((answer) => answer.json())
      .then(list, () => undefined)
  }, [])
  return matches
}
