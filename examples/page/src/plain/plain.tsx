import type { ClientMatch } from '@zinc-referee/venue/client'
import { useState } from 'preact/hooks'
import type { AnyView } from 'zinc-referee'
import { Feed } from '../feed.tsx'
import { Header } from '../header.tsx'
import { TurnLine } from '../table/turn-line.tsx'
import { useMatch } from '../use-match.ts'
import { useRulebook } from '../use-rulebook.ts'
import { ActionForms } from './action-forms.tsx'
import { rowName } from './row-name.ts'
import { ViewTables } from './view-tables.tsx'
import './plain.css'

type Other = { readonly key: number; readonly watch?: string; readonly name?: string }

/** A page for whatever rulebook: seats side by side, each with what it sees and a button for each action. */
export function Plain({
  match,
  goOut,
}: {
  readonly match: ClientMatch<AnyView>
  readonly goOut: () => void
}) {
  const [others, setOthers] = useState<readonly Other[]>([])
  const add = (other: Omit<Other, 'key'>): void =>
    setOthers([...others, { ...other, key: (others.at(-1)?.key ?? 0) + 1 }])
  return (
    <div class="page">
      <Header match={match} goOut={goOut} />
      <div class="row">
        <button type="button" onClick={() => add({ name: `Guest ${others.length + 2}` })}>
          Add a seat
        </button>
        <button type="button" onClick={() => add({ watch: 'spectator' })}>
          Add a spectator
        </button>
      </div>
      <div class="columns">
        <Column match={match} />
        {others.map((other) => (
          <OtherColumn
            key={other.key}
            id={match.id}
            other={other}
            close={() => setOthers(others.filter(({ key }) => key !== other.key))}
          />
        ))}
      </div>
    </div>
  )
}

function OtherColumn({
  id,
  other,
  close,
}: {
  readonly id: string
  readonly other: Other
  readonly close: () => void
}) {
  const { match, problem } = useMatch({
    match: id,
    ...(other.name === undefined ? {} : { name: other.name }),
    ...(other.watch === undefined ? {} : { watch: other.watch }),
  })
  if (problem !== undefined)
    return (
      <section class="column" role="alert">
        <p>{problem}</p>
        <button type="button" onClick={close}>
          Close
        </button>
      </section>
    )
  if (match === undefined) return <section class="column">Going in…</section>
  return <Column match={match} close={close} />
}

function Column({ match, close }: { readonly match: ClientMatch<AnyView>; readonly close?: () => void }) {
  const [said, say] = useState({ text: '', isRefusal: false })
  const rulebook = useRulebook(match)
  const { seats } = match.replica.view.roster
  const act = async (action: string, input: object): Promise<void> => {
    const ruling = await match.act(action, input).catch(() => undefined)
    if (ruling !== undefined)
      say(
        ruling.ok
          ? { text: `${action}: allowed`, isRefusal: false }
          : { text: `${action}: ${ruling.says}`, isRefusal: true },
      )
  }
  const title = match.seat === null ? 'Spectator' : (seats[match.seat]?.name ?? match.seat)
  return (
    <section class="column" aria-label={title}>
      <div class="row apart">
        <h2>{title}</h2>
        {close && (
          <button type="button" onClick={close}>
            Close
          </button>
        )}
      </div>
      <TurnLine match={match} />
      {match.seat !== null && (
        <ActionForms
          rulebook={rulebook}
          seats={Object.keys(seats)}
          offered={offeredIn(match.replica.view)}
          nameOf={(id) => seats[id]?.name ?? rowName(match.replica.view, id)}
          act={act}
        />
      )}
      <p class={said.isRefusal ? 'said' : 'said mild'} role="status">
        {said.text}
      </p>
      <Feed
        match={match}
        tell={({ name, cells }) =>
          `${name} ${Object.values(cells)
            .filter((value) => value !== null)
            .join(' ')}`
        }
      />
      <ViewTables match={match} rulebook={rulebook} />
    </section>
  )
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
