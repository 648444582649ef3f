import { notificationText } from './protocol.ts'

const [CLOSE_ENDED, CLOSE_GOING] = [1000, 1001]

/** The way to a client, as far as a farewell goes. */
export interface Line {
  send(text: string): void
  close(code: number, reason: string): void
}

/** Says why the match of a client has ended for it, and ends the connection. `url`: where it goes on, if it has moved. */
export function sayFarewell(line: Line, why: string, match: string | undefined, url?: string): void {
  const hasMoved = why === 'moved'
  const text = JSON.stringify(hasMoved ? { match, url } : { why })
  line.send(notificationText(hasMoved ? 'moved' : 'closed', text))
  if (hasMoved) line.close(CLOSE_GOING, 'the match has moved')
  else if (why === 'suspended' || why === 'venue-closed') line.close(CLOSE_GOING, 'the venue closes')
  else line.close(CLOSE_ENDED, 'the match has ended')
}
