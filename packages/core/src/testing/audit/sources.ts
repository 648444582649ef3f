import type { Fault } from '../../engine/index.ts'
import { readRecord } from '../../record/index.ts'
import { type AnyMatch, type AnyRulebook, replayLine, replayRecord } from '../../rulebook/index.ts'
import { beginPlay } from '../begin-play.ts'
import { playToEnd } from '../crowd.ts'
import { type Deed, intercepted, timePasses } from '../deeds.ts'
import { restless } from '../restless.ts'
import type { AuditAsked, AuditedRecord } from './asked.ts'

/** A match that can be played again and again in the same way. */
export interface Source {
  begin(onFault?: (fault: Fault) => void): AnyMatch
  /** Plays it from its beginning on; `hear` gets each deed before it is done. */
  play(match: AnyMatch, hear: (deed: Deed) => void): void
}

const USUAL_LENGTH = 15 * 60_000

/** A match of these seats, from its first ms of live play, as a crowd plays it. */
export const played = (book: AnyRulebook, asked: AuditAsked): Source => ({
  begin: (onFault) => beginPlay(book, asked, onFault && { onFault }),
  play(match, hear) {
    const { crowd, seed = 'fair-1', until = USUAL_LENGTH } = asked
    const followed = intercepted(match, (deed) => {
      hear(deed)
      return deed.does(match)
    })
    playToEnd(followed, restless(crowd(), seed, until), until)
  },
})

/**
 * A match as it was recorded.
 * @throws what `replayRecord` throws for a record that is none, or of another rulebook
 */
export function recorded(book: AnyRulebook, record: AuditedRecord['record']): Source {
  const content = typeof record === 'string' ? readRecord(record) : record
  return {
    begin: (onFault) => replayRecord(book, { ...content, lines: [] }, { ...(onFault && { onFault }) }).match,
    play(match, hear) {
      const does = (deed: Deed): void => {
        hear(deed)
        deed.does(match)
      }
      for (const { line } of content.lines) {
        while (match.nextDue !== undefined && match.nextDue <= line.t) does(timePasses(match, match.nextDue))
        if (match.now < line.t) does(timePasses(match, line.t))
        if (!('input' in line)) continue
        const name = line.submit ?? line.report ?? line.reportAll ?? line.direct ?? ''
        const kind = line.submit ? 'action' : line.report ? 'fact' : line.direct ? 'directive' : 'other'
        const { seat, input } = line
        does({ at: match.now, kind, name, seat, input, does: (each) => replayLine(each, line) })
      }
    },
  }
}
