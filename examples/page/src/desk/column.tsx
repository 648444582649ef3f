import type { ClientMatch } from '@zinc-referee/venue/client'
import { useRef, useState } from 'preact/hooks'
import type { AnyView } from 'zinc-referee'
import { Feed, type Told } from '../feed.tsx'
import { outcomeOf } from '../names.ts'
import { TurnLine } from '../table/turn-line.tsx'
import { useRulebook } from '../use-rulebook.ts'
import { Verdict } from '../verdict.tsx'
import { ActionForms } from './action-forms.tsx'
import { AnotherColumn, type Beside } from './another-column.tsx'
import { noticeText } from './notice-text.ts'
import { rowName } from './row-name.ts'
import { Running } from './running.tsx'
import { useLegal } from './use-legal.ts'
import { ViewTables } from './view-tables.tsx'

/** The same over a connection of its own. */
export const OtherColumn = (beside: Beside) => (
  <AnotherColumn {...beside}>
    {(match) => <Column match={match} title={beside.title} close={beside.close} />}
  </AnotherColumn>
)

/** What one viewer sees, and for a seat what it can do. */
export function Column({
  match,
  title,
  close,
}: {
  readonly match: ClientMatch<AnyView>
  /** Whose view it is. Default: the seat's name, or 'Spectator'. */
  readonly title?: string | undefined
  readonly close?: () => void
}) {
  const [said, say] = useState({ text: '', isRefusal: false })
  const rulebook = useRulebook(match)
  const [done, count] = useState(0)
  const legal = useLegal(match, rulebook, done)
  const kept = useRef<Told>(new Map())
  const { view } = match.replica
  const { seats } = view.roster
  const nameOf = (id: string): string => seats[id]?.name ?? rowName(view, id)
  const act = async (action: string, input: object): Promise<void> => {
    const ruling = await match.act(action, input).catch(() => undefined)
    count((before) => before + 1)
    if (ruling !== undefined)
      say(
        ruling.ok
          ? { text: `${action}: allowed`, isRefusal: false }
          : { text: `${action}: ${ruling.says}`, isRefusal: true },
      )
  }
  const end = view.verdict?.end
  const ended = end?.kind == null ? undefined : end
  const whose = title ?? (match.seat === null ? 'Spectator' : (seats[match.seat]?.name ?? match.seat))
  return (
    <section class="column" aria-label={whose}>
      <div class="row apart">
        <h2>{whose}</h2>
        {close && (
          <button type="button" onClick={close}>
            Close
          </button>
        )}
      </div>
      {ended !== undefined && (
        <Verdict
          title={outcomeOf({ ...view, verdict: { end: ended } })}
          reason={ended.reason ?? ''}
          view={view}
          seat={match.seat}
          act={undefined}
        />
      )}
      <TurnLine match={match} />
      <Running match={match} rulebook={rulebook} nameOf={nameOf} />
      {match.seat !== null && (
        <ActionForms rulebook={rulebook} view={view} legal={legal} nameOf={nameOf} act={act} />
      )}
      <p class={said.isRefusal ? 'said' : 'said mild'} role="status">
        {said.text}
      </p>
      <Feed
        match={match}
        kept={kept.current}
        tell={({ name, cells }) => noticeText(rulebook, name, cells, nameOf)}
      />
      <ViewTables match={match} rulebook={rulebook} nameOf={nameOf} />
    </section>
  )
}
