import type { ClientMatch } from '@zinc-referee/venue/client'
import type { ComponentChildren } from 'preact'
import { useMemo, useState } from 'preact/hooks'
import type { AnyView } from 'zinc-referee'
import { type BareView, type Notice, noticeIn, refusalIn } from 'zinc-referee/replica'
import { Feed, type Told } from './feed.tsx'
import { Header } from './header.tsx'
import { HowToPlay } from './how-to-play.tsx'
import { type Language, LanguageChoice, useLanguage } from './languages/language.tsx'
import { ComparedWith } from './only-there.tsx'
import { useMatch } from './use-match.ts'
import { useRulebook } from './use-rulebook.ts'
import { Verdict } from './verdict.tsx'

/** Asks for an action; what was refused is said in the column. */
export type Act = (action: string, input?: object) => void

/** What a column shows. */
export interface Seen<V extends BareView> {
  readonly match: ClientMatch<V>
  /** Whose eyes these are; nothing for a spectator. */
  readonly viewer: string | null
  /** Nothing where the view only watches. */
  readonly act: Act | undefined
  /** What was last asked for and allowed: the page remembers what no view tells. */
  readonly called: string
}
/** What a mode's own page shows. */
export interface FaceOf<V extends AnyView, N extends Notice> {
  /** What a viewer sees of the game. */
  Sight(seen: Seen<V>): ComponentChildren
  /** One's own orders in play. */
  Orders(seen: Seen<V>): ComponentChildren
  /** A notice as a line of the feed; nothing for what is not worth a line. */
  tell(notice: N, view: V): string | undefined
  /** Who has won, in words. */
  outcome(view: V): string
}
/** The page of a mode: of which rulebook it is, and the component. */
export interface ModePage {
  readonly rulebook: string
  readonly Page: (shown: Shown) => ComponentChildren
}
interface Shown {
  readonly match: ClientMatch<AnyView>
  readonly goOut: () => void
}

/** A page for the matches of this rulebook: typed by its view and notices, and shown for no other. */
export function pageOf<V extends AnyView, N extends Notice>(rulebook: string, face: FaceOf<V, N>): ModePage {
  const is: Is<V, N> = (match): match is ClientMatch<V, N> => match.mode === rulebook
  return {
    rulebook,
    Page: ({ match, goOut }) => (is(match) ? <Face face={face} is={is} match={match} goOut={goOut} /> : null),
  }
}

type Is<V extends AnyView, N extends Notice> = (
  match: ClientMatch<AnyView> | ClientMatch<V, N>,
) => match is ClientMatch<V, N>

/** Your own view and, beside it, another's: what one sees and the other does not is visible at once. */
function Face<V extends AnyView, N extends Notice>({
  face,
  is,
  match,
  goOut,
}: {
  readonly face: FaceOf<V, N>
  readonly is: Is<V, N>
  readonly match: ClientMatch<V, N>
  readonly goOut: () => void
}) {
  const [other, follow] = useState<string>('')
  const [said, say] = useState('')
  const [called, call] = useState('')
  const kept = useMemo((): Told => new Map(), [match])
  const [language, chooseLanguage] = useLanguage(useRulebook(match))
  const { view } = match.replica
  const { seat } = match
  const ask = async (action: string, input: object = {}): Promise<void> => {
    const ruling = await match.act(action, input, seenBy(view, seat)).catch(() => undefined)
    say(ruling === undefined || ruling.ok ? '' : (refusalIn(language.catalogue, ruling) ?? ruling.says))
    if (ruling?.ok) call([action, ...Object.values(input)].join(' '))
  }
  const act = seat === null ? undefined : ask
  const seen = { match, viewer: seat, act, called }
  const { phase } = view.phases.now
  const told = (notice: N): string | undefined => toldIn(language, notice, view) ?? face.tell(notice, view)
  const feed = <Feed match={match} tell={told} kept={kept} lang={language.tag} />
  const hasTexts = Object.keys(language.catalogue.notices).length > 0
  return (
    <div class="page">
      <Header match={match} goOut={goOut}>
        {hasTexts && <LanguageChoice tag={language.tag} choose={chooseLanguage} />}
      </Header>
      {phase === 'over' && view.verdict?.end.kind != null && (
        <Verdict
          title={face.outcome(view)}
          reason={view.verdict.end.reason}
          view={view}
          seat={seat}
          act={act}
        />
      )}
      <div class="columns">
        <section class="column" aria-label="Your view">
          <h2>{seat === null ? 'Spectator' : `You are ${view.roster.seats[seat]?.name ?? seat}`}</h2>
          {seat !== null && phase === 'lobby' && <Lobby view={view} seat={seat} act={ask} />}
          {seat !== null && phase === 'live' && <face.Orders {...seen} />}
          <p class="said" role="status" lang={language.tag}>
            {said}
          </p>
          <face.Sight {...seen} />
          {other !== '' && feed}
        </section>
        <section class="column" aria-label="Another view">
          <label class="follow">
            See it as
            <select value={other} onChange={(event) => follow(event.currentTarget.value)}>
              <option value="">nobody else</option>
              <option value="spectator">a spectator</option>
              {Object.entries(view.roster.seats)
                .filter(([id]) => id !== seat)
                .map(([id, { name }]) => (
                  <option key={id} value={id}>
                    {name}
                  </option>
                ))}
            </select>
          </label>
          {other !== '' && (
            <Other
              key={other}
              face={face}
              is={is}
              id={match.id}
              watch={other}
              language={language}
              mine={view}
            />
          )}
          {other === '' && feed}
          <HowToPlay mode={match.mode} />
        </section>
      </div>
    </div>
  )
}

/** What the rules say of a notice, with the names of seats; nothing if they leave it to the page. */
const toldIn = ({ catalogue }: Language, notice: Notice, view: AnyView): string | undefined =>
  noticeIn(catalogue, notice, (value) =>
    [value]
      .flat()
      .map((each) => view.roster.seats[String(each)]?.name ?? String(each))
      .join(', '),
  )

/** The life and, in one's own turn, the turn that were seen: what comes too late is refused, not done in another. */
function seenBy(view: AnyView, seat: string | null): { readonly life?: number; readonly turn?: number } {
  const life = seat === null ? undefined : view.vitals?.lives?.[seat]?.life
  const { seats, turn } = view.turns?.now ?? {}
  return {
    ...(life !== undefined && { life }),
    ...(seat !== null && seats?.includes(seat) && turn !== undefined && { turn }),
  }
}

/** A second connection that only watches. */
function Other<V extends AnyView, N extends Notice>({
  face,
  is,
  id,
  watch,
  language,
  mine,
}: {
  readonly face: FaceOf<V, N>
  readonly is: Is<V, N>
  readonly id: string
  readonly watch: string
  readonly language: Language
  /** One's own view, to compare. */
  readonly mine: AnyView
}) {
  const { match, problem } = useMatch({ match: id, watch })
  const kept = useMemo((): Told => new Map(), [match])
  if (problem !== undefined) return <p role="alert">{problem}</p>
  if (match === undefined || !is(match)) return <p>Looking…</p>
  return (
    <>
      <ComparedWith theirs={match.replica.view} mine={mine}>
        <face.Sight match={match} viewer={watch === 'spectator' ? null : watch} act={undefined} called="" />
      </ComparedWith>
      <Feed
        match={match}
        kept={kept}
        title={`Just now, as ${watch === 'spectator' ? 'a spectator' : (match.replica.view.roster.seats[watch]?.name ?? watch)}`}
        tell={(notice) =>
          toldIn(language, notice, match.replica.view) ?? face.tell(notice, match.replica.view)
        }
        lang={language.tag}
      />
    </>
  )
}

function Lobby({ view, seat, act }: { readonly view: AnyView; readonly seat: string; readonly act: Act }) {
  const ready = view.roster.seats[seat]?.ready ?? false
  const waiting = Object.values(view.roster.seats)
    .filter((row) => row.presence === 'here' && !row.ready)
    .map(({ name }) => name)
  return (
    <div class="helm">
      <button
        type="button"
        class="main"
        aria-pressed={ready}
        onClick={() => act(ready ? 'roster.unready' : 'roster.ready')}
      >
        {ready ? 'Not ready' : 'Ready'}
      </button>
      <span>{waiting.length === 0 ? 'Waiting for one more' : `Waiting for ${waiting.join(', ')}`}</span>
    </div>
  )
}
