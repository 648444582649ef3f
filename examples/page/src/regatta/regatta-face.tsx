import type { Regatta } from '@zinc-referee/examples'
import type { ClientMatch } from '@zinc-referee/venue/client'
import { useState } from 'preact/hooks'
import type { AnyView } from 'zinc-referee'
import { Feed } from '../feed.tsx'
import { Header } from '../header.tsx'
import { useMatch } from '../use-match.ts'
import { Helm } from './helm.tsx'
import { Rafts } from './rafts.tsx'
import { tellRegatta } from './tell.ts'
import { Verdict } from './verdict.tsx'

/** What a viewer of the regatta sees. */
export type RegattaView = ReturnType<Regatta['view']>
export type RegattaMatch = ClientMatch<RegattaView>

/** The rulebook's name has been compared: the view is the regatta's. */
function isRegatta(match: ClientMatch<AnyView> | RegattaMatch): match is RegattaMatch {
  return match.rulebook.name === 'reed-regatta'
}

/** Your own view and, beside it, another's: what one sees and the other does not is visible at once. */
export function RegattaFace({
  match,
  goOut,
}: {
  readonly match: ClientMatch<AnyView>
  readonly goOut: () => void
}) {
  const [other, follow] = useState<string>('')
  const [said, say] = useState('')
  // Where a raft is heading is told to nobody, so the page remembers what was last called.
  const [called, call] = useState('')
  if (!isRegatta(match)) return null
  const { view } = match.replica
  const act = async (action: string, input: object = {}): Promise<void> => {
    const life = match.seat === null ? undefined : view.vitals.lives[match.seat]?.life
    const ruling = await match.act(action, input, life === undefined ? {} : { life }).catch(() => undefined)
    say(ruling === undefined || ruling.ok ? '' : ruling.says)
    if (ruling?.ok && action.startsWith('raft.')) call(`${action} ${'quarry' in input ? input.quarry : ''}`)
  }
  return (
    <div class="page">
      <Header match={match} goOut={goOut} />
      <Verdict match={match} act={act} />
      <div class="columns">
        <section class="column" aria-label="Your view">
          <h2>
            {match.seat === null
              ? 'Spectator'
              : `You are ${view.roster.seats[match.seat]?.name ?? match.seat}`}
          </h2>
          {match.seat !== null && <Helm match={match} act={act} called={called} />}
          <p class="said" role="status">
            {said}
          </p>
          <Rafts
            match={match}
            viewer={match.seat}
            act={match.seat === null ? undefined : act}
            called={called}
          />
        </section>
        <section class="column" aria-label="Another view">
          <label class="follow">
            See it as
            <select value={other} onChange={(event) => follow(event.currentTarget.value)}>
              <option value="">nobody else</option>
              <option value="spectator">a spectator</option>
              {Object.entries(view.roster.seats)
                .filter(([id]) => id !== match.seat)
                .map(([id, { name }]) => (
                  <option key={id} value={id}>
                    {name}
                  </option>
                ))}
            </select>
          </label>
          {other === '' ? (
            <Feed match={match} tell={(notice) => tellRegatta(notice, view)} />
          ) : (
            <Other key={other} watch={other} />
          )}
        </section>
      </div>
    </div>
  )
}

/** A second connection that only watches. */
function Other({ watch }: { readonly watch: string }) {
  const { match, trouble } = useMatch({ watch })
  if (trouble !== undefined) return <p role="alert">{trouble}</p>
  if (match === undefined || !isRegatta(match)) return <p>Looking…</p>
  return (
    <>
      <Rafts match={match} viewer={watch === 'spectator' ? null : watch} act={undefined} />
      <Feed match={match} tell={(notice) => tellRegatta(notice, match.replica.view)} />
    </>
  )
}
