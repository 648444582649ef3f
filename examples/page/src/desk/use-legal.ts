import type { ClientMatch } from '@zinc-referee/venue/client'
import { useEffect, useState } from 'preact/hooks'
import type { AnyView, InputDescription, RulebookDescription } from 'zinc-referee'

/** How often the venue is asked again what is legal, in ms. */
const AGAIN = 1000

/** True if the inputs of an action can be listed: those that its rule offers, and an action without any. */
export const isListed = ({ offers, cells }: InputDescription): boolean =>
  offers === true || Object.keys(cells ?? {}).length === 0

/**
 * What a seat can do now, by action: the options in its view, and for other actions what the venue answers. It is asked again
 * every second, and when the phase, the turn or `done` changes: how many inputs the seat has sent.
 */
export function useLegal(
  match: ClientMatch<AnyView>,
  { rules }: Pick<RulebookDescription, 'rules'>,
  done: number,
): { readonly [action: string]: readonly object[] } {
  const [asked, setAsked] = useState<{ readonly [action: string]: readonly object[] }>({})
  const offered = offeredIn(match.replica.view)
  const names = rules.flatMap(({ actions }) =>
    actions.flatMap((action) => (isListed(action) && offered[action.name] === undefined ? action.name : [])),
  )
  const { phase, paused } = match.replica.view.phases.now
  const turn = match.replica.view.turns?.now.turn
  const list = names.join()
  useEffect(() => {
    if (match.seat === null || list === '') return
    let isOld = false
    const ask = async (): Promise<void> => {
      if (match.state !== 'live') return
      // Whoever asks too often is not answered for a moment: what was known stays.
      const each = list.split(',').map(async (name) => {
        const found = await match.options(name).catch(() => undefined)
        return found === undefined ? [] : [[name, found] as const]
      })
      const found = Object.fromEntries((await Promise.all(each)).flat())
      if (!isOld) setAsked((before) => ({ ...before, ...found }))
    }
    void ask()
    const again = setInterval(ask, AGAIN)
    return () => {
      isOld = true
      clearInterval(again)
    }
  }, [list, phase, paused, turn, match.seat, done])
  return { ...asked, ...offered }
}

/** The options that are in a view, by 'rule.action'. */
const offeredIn = (view: AnyView): { readonly [action: string]: readonly object[] } =>
  Object.fromEntries(
    Object.entries(view).flatMap(([rule, parts]) =>
      Object.entries(Object(Object(parts).options)).map(([action, options]) => [
        `${rule}.${action}`,
        Array.isArray(options) ? options : [],
      ]),
    ),
  )
