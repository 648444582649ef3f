import type { Refusal } from './ruling.ts'

/** What each code of the engine and of the built-in rules means, and the mend. */
export const refusalTexts: { readonly [code: string]: string } = {
  closed: 'The match is closed. Begin or join another.',
  'unknown-seat': 'Nobody sits under this id. Join first, or mend the id.',
  gone: 'This seat has left the bout. Join again to come back.',
  'id-reused': 'This action id was used for something else. Give each action an id of its own.',
  'unknown-action': 'The rulebook has no such action, fact or directive. Mend the name, as in rule.action.',
  'bad-input': 'The input does not fit. Mend what the issues name.',
  'not-started': 'Play has not begun. Wait for the phase live.',
  'on-break': 'Play rests between two rounds. Wait for the next round.',
  over: 'The bout has its verdict. Wait for a rematch.',
  paused: 'The match is paused. Wait until it goes on.',
  frozen: 'Play is halted for a moment. Wait until it goes on.',
  absent: 'The seat is marked as away. Join again to come back to it.',
  out: 'The seat is out of this bout. Watch until the next one.',
  'stale-life': 'This was made in an earlier life of the seat. Send it again with the present life.',
  down: 'The seat is down. Wait until it is back.',
  'no-such-target': 'There is nothing to aim at by that name. Choose one that the view shows.',
  fault: 'A rule failed; nothing happened. The host finds the cause in match.faults.',
  'match-full': 'No seat is free. Wait for one, or watch.',
  'bad-name': 'The name is empty or too long. Give one of 1 to 24 characters.',
  'seat-taken': 'Another player has this seat. Ask for another id.',
  'too-few': 'There are fewer seats here than needed. Wait for more to join or to be ready.',
  'already-starting': 'A countdown runs. Wait for it.',
  'already-started': 'The bout has begun. Wait for its verdict.',
  'already-paused': 'It is paused already. Resume it first, or leave it so.',
  'not-paused': 'It is not paused. Pause it first, or leave it so.',
  'nothing-to-pause': 'No clock runs in this phase that a pause could hold. Wait for the countdown.',
  'round-over': 'The round has ended; it is never opened again. Ask for a rematch.',
  'not-in-play': 'The target is not in play. Choose another.',
  'not-your-turn': "It is another seat's turn. Wait for yours.",
  'wrong-step': 'This belongs to another step of the turn. Do what the present step asks for.',
  'none-left': 'No actions are left in this step. Go on to the next.',
  'cannot-pass': 'Passing is not allowed here. Choose one of your options.',
  'off-grid': 'There is no such cell. Choose one on the board.',
  'cell-taken': 'Somebody is there. Choose a free cell.',
  stale: 'This happened too long ago to count. Report it sooner, or let the fact be later.',
  'cannot-move': 'The seat cannot move by itself: it has no place, or only the server moves it.',
  'too-fast': 'No seat gets that far so soon. Go on from where the refusal says it is.',
  blocked: 'Something stands in the way. Go on from where the refusal says it is.',
  'target-down': 'The target is down. Choose another, or wait.',
  'not-due': 'The time to come back has not come. Wait for it.',
  'no-order': 'The seat was ordered nowhere. Nothing is to be said.',
  'not-at-place': 'That is too far from where the seat was ordered to. Go there first.',
  'not-down': 'The seat is up. Only one that is down can be raised.',
  'not-holding': 'The seat does not hold this thing. Take it first.',
  held: 'Somebody holds this thing. Wait until it is free.',
  'has-boost': 'The seat has this boost already. Wait until it ends.',
  'friendly-fire': 'A team-mate cannot be hurt. Choose a foe.',
  uneven: 'The teams would become too unequal. Choose another team, or trade places with somebody.',
  'same-team': 'The two are in one team already. Choose somebody of another team.',
  'cannot-surrender': 'Nobody can give up in this mode. Leave, or play on.',
  'already-void': 'This entry was taken back before. Leave it so, or give anew.',
  'too-soon': 'The thing may not go there yet. Wait a moment, or give it to somebody else.',
}

/** A refusal as a sentence with its mend; a mode's own codes are shown as they are. */
export function explainRefusal({ code, details }: Refusal): string {
  const text = refusalTexts[code] ?? `The rules of this mode refuse it: ${code}.`
  const issues = Array.isArray(details?.['issues']) ? ` ${details['issues'].join('; ')}.` : ''
  return text + issues
}
