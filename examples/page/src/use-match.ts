import { type ClientMatch, connect } from '@zinc-referee/venue/client'
import { useEffect, useRef, useState } from 'preact/hooks'
import type { AnyView } from 'zinc-referee'

/** How a column of the page enters the match. */
export interface Entry {
  /** Which one, where the venue has several. */
  readonly match?: string
  /** Which game, where the venue finds a match of it. */
  readonly mode?: string
  readonly name?: string
  readonly player?: string
  readonly watch?: string
  /** The token that lets its holder in, at a venue that asks for one. */
  readonly admission?: string
}
export interface Entered {
  readonly match: ClientMatch<AnyView> | undefined
  /** Why there is no match, or none any more. */
  readonly problem: string | undefined
}

const socketUrl = (): string => `${location.protocol === 'https:' ? 'wss' : 'ws'}://${location.host}/socket`

/** One connection to the match, kept as long as the entry stays the same; every change draws the column again. */
export function useMatch(entry: Entry): Entered {
  const [, draw] = useState(0)
  const entered = useRef<Entered>({ match: undefined, problem: undefined })
  const { match: id, mode, name, player, watch, admission } = entry
  useEffect(() => {
    let left = false
    entered.current = { match: undefined, problem: undefined }
    const show = (next: Partial<Entered>): void => {
      if (left) return
      entered.current = { ...entered.current, ...next }
      draw((n) => n + 1)
    }
    const changed = (): void => show({})
    const opening = connect<AnyView>({
      url: socketUrl(),
      changed,
      ended: (why) => show({ problem: why }),
      ...(id === undefined ? {} : { match: id }),
      ...(mode === undefined ? {} : { mode }),
      ...(name === undefined ? {} : { name }),
      ...(player === undefined ? {} : { player }),
      ...(watch === undefined ? {} : { watch }),
      ...(admission === undefined ? {} : { admission }),
    })
    opening.then(
      (match) => show({ match }),
      (error: Error) => show({ problem: error.message }),
    )
    return () => {
      left = true
      opening.then(
        (match) => match.leave(),
        () => undefined,
      )
    }
  }, [id, mode, name, player, watch, admission])
  return entered.current
}
