import type { ClientMatch, Described } from '@zinc-referee/venue/client'
import { useState } from 'preact/hooks'
import type { AnyView, InputDescription } from 'zinc-referee'
import { Fields, inputOf } from './fields.tsx'
import { SettingForm } from './setting-form.tsx'
import './drive.css'

type Kind = 'report' | 'direct'
interface Order extends InputDescription {
  readonly how: Kind
}
interface Answered {
  readonly n: number
  readonly says: string
  readonly isRefused: boolean
}

/** How many answers stay on the page. */
const KEPT = 50
/** Directives that need no input and are wanted again and again: a button each, beside the form. */
const AT_HAND: readonly string[] = ['phases.start', 'phases.pause', 'phases.resume']
/** The venue's own directive: how far time is put on, in ms. Without a number, until the next thing is due. */
const SKIP = 'venue.skip'
const SKIPS = [
  ['next event', {}],
  ['+1 s', { for: 1000 }],
  ['+10 s', { for: 10_000 }],
  ['+1 min', { for: 60_000 }],
] as const
/** The engine's own directive: every rule has settings. */
const SET = 'match.set'

/** What a referee may: facts as a game server reports them, directives and settings, by forms, with their answers. */
export function Drive({
  match,
  rulebook: { rules, settings },
}: {
  readonly match: ClientMatch<AnyView>
  readonly rulebook: Pick<Described, 'rules' | 'settings'>
}) {
  const [answers, setAnswers] = useState<readonly Answered[]>([])
  const orders = [
    ...rules.toReversed().flatMap(({ facts }) => facts.map((fact) => ({ ...fact, how: 'report' as const }))),
    ...(match.role === 'referee'
      ? rules.flatMap(({ directives }) => directives.map((each) => ({ ...each, how: 'direct' as const })))
      : []),
  ]
  /** Resolves with whether it was done. */
  const give = async (how: Kind, name: string, input: object): Promise<boolean> => {
    const given = Object.keys(input).length === 0 ? '' : ` ${JSON.stringify(input)}`
    const ruling = await match[how](name, input).catch((error: Error) => ({ ok: false, says: error.message }))
    const says = `${name}${given}: ${'says' in ruling ? ruling.says : 'done'}`
    setAnswers((before) =>
      [{ n: (before[0]?.n ?? 0) + 1, says, isRefused: !ruling.ok }, ...before].slice(0, KEPT),
    )
    return ruling.ok
  }
  return (
    <>
      {match.role === 'referee' && (
        <div class="row">
          {orders
            .filter(({ how, name }) => how === 'direct' && AT_HAND.includes(name))
            .map(({ how, name }) => (
              <button key={name} type="button" onClick={() => void give(how, name, {})}>
                {name}
              </button>
            ))}
        </div>
      )}
      {match.role === 'referee' && (
        <fieldset class="row">
          <legend>Let time pass</legend>
          {SKIPS.map(([label, input]) => (
            <button key={label} type="button" onClick={() => void give('direct', SKIP, input)}>
              {label}
            </button>
          ))}
        </fieldset>
      )}
      {orders.length > 0 && <OrderForm orders={orders} view={match.replica.view} give={give} />}
      {settings !== undefined && (
        <SettingForm
          settings={settings}
          set={(rule, changed) => give('direct', SET, { rule, settings: changed })}
        />
      )}
      <ol class="answers" aria-label="Answers" aria-live="polite">
        {answers.map(({ n, says, isRefused }) => (
          <li key={n} class={isRefused ? 'refused' : undefined}>
            {isRefused && 'refused · '}
            {says}
          </li>
        ))}
      </ol>
    </>
  )
}

type Give = (how: Kind, name: string, input: object) => Promise<boolean>

function OrderForm({
  orders,
  view,
  give,
}: {
  readonly orders: readonly Order[]
  readonly view: AnyView
  readonly give: Give
}) {
  const [chosen, choose] = useState(0)
  const order = orders[chosen] ?? orders[0]
  const group = (label: string, of: Kind) => (
    <optgroup label={label}>
      {orders.map(({ how, name }, at) =>
        how === of ? (
          <option key={`${how} ${name}`} value={at}>
            {name}
          </option>
        ) : null,
      )}
    </optgroup>
  )
  if (order === undefined) return null
  return (
    <form
      class="order"
      onSubmit={(event) => {
        event.preventDefault()
        void give(order.how, order.name, inputOf(event.currentTarget, order.cells ?? {}))
      }}
    >
      <label>
        Fact or directive
        <select value={chosen} onChange={(event) => choose(Number(event.currentTarget.value))}>
          {group('Facts', 'report')}
          {group('Directives', 'direct')}
        </select>
      </label>
      <Fields key={order.name} of={order.name} cells={order.cells ?? {}} view={view} />
      <button type="submit">{order.how === 'report' ? 'Report it' : 'Direct it'}</button>
    </form>
  )
}
