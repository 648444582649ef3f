import { CodedError, replicaMessages } from './coded-error.ts'

const list = (items: readonly string[]): string => items.map((item) => `'${item}'`).join(', ')

/**
 * Every error that this package throws: what went wrong, where, and the fix. Refusals are not here: they are answers,
 * not errors. docs/errors.md lists the same codes.
 */
const own = {
  ZR_RULE_BAD_NAME: (d: { what: string; name: string }) =>
    `The ${d.what} '${d.name}' cannot be used as a name. Use letters, digits and dashes, beginning with a letter. Taken are 'id', what every object has, and for parts of the state 'timers' and 'options'.`,
  ZR_RULE_BAD_FORM: (d: { rule: string; issues: readonly string[] }) =>
    `Rule '${d.rule}' cannot be read: ${d.issues.join('; ')}. Fix the spelling; a type check shows where.`,
  ZR_RULE_TOO_MANY_SIGHTS: (d: { part: string; most: number }) =>
    `The cells of '${d.part}' are seen in more than ${d.most} different ways. Use one function for cells that are seen alike, or split the part.`,
  ZR_RULE_STATE_ONLY: (d: { where: string; cell: string; kind: string }) =>
    `'${d.where}' has a ${d.kind} as its cell '${d.cell}', which only the state can hold. Use a list(…).`,
  ZR_RULE_BAD_REFERENCE: (d: { part: string; cell: string; why: string }) =>
    `The cell '${d.cell}' of '${d.part}' refers to rows, but ${d.why}.`,
  ZR_RULE_NAME_TWICE: (d: { rule: string; name: string }) =>
    `Rule '${d.rule}' has two actions, facts, directives or drafts named '${d.name}'. Rename one of them.`,
  ZR_RULE_UNHANDLED_DRAFT: (d: { rule: string; draft: string }) =>
    `Rule '${d.rule}' declares the draft '${d.draft}' but does not say how it is carried out. Add it to 'apply'.`,
  ZR_RULE_UNKNOWN_HANDLER: (d: { rule: string; part: string; key: string; known: readonly string[] }) =>
    `Rule '${d.rule}' has '${d.key}' in '${d.part}', which no rule in its needs has. Fix the spelling, or add the rule to 'needs'. There are ${list(d.known) || 'none'}.`,
  ZR_RULE_UNKNOWN_TABLE: (d: { input: string; table: string }) =>
    `The input of '${d.input}' refers to rows of '${d.table}', but there is no such table. Fix the name, or declare the table.`,
  ZR_RULE_UNKNOWN_GATE: (d: { rule: string; action: string; gate: string }) =>
    `Action '${d.rule}.${d.action}' names the gate '${d.gate}', which no rule of the rulebook has. Add the rule that has it.`,
  ZR_RULE_BAD_GATE: (d: { gate: string; issues: readonly string[] }) =>
    `Gate '${d.gate}' would never run: ${d.issues.join('; ')}. Fix the spelling.`,
  ZR_RULE_BAD_ANSWER: (d: { input: string; answer: unknown }) =>
    `A handler answered '${d.input}' with ${d.answer === null ? 'null' : typeof d.answer === 'object' ? 'an object without ok' : String(d.answer)}. Return refuse(code), or nothing.`,
  ZR_RULE_BAD_OPTION: (d: { action: string; issues: readonly string[] }) =>
    `The options of '${d.action}' offer an input that it does not take: ${d.issues.join('; ')}. Fix what 'options' returns, or the input.`,
  ZR_RULE_NO_OPTIONS: (d: { action: string }) =>
    `Action '${d.action}' is offered, but its input has no end of values. Give it 'options', bound its numbers, or do not offer it.`,
  ZR_RULE_EVENT_WITHOUT_OWNER: (d: { event: string }) =>
    `Event '${d.event}' has a cell seen by its owner, but no cell 'seat'. Add 'seat: seatRef()'.`,
  ZR_RULEBOOK_TWO_RULES: (d: { rulebook: string; rule: string }) =>
    `Rulebook '${d.rulebook}' has two rules named '${d.rule}'. List it once, or rename one of them.`,
  ZR_RULEBOOK_MISSING_NEED: (d: { rulebook: string; rule: string; need: string }) =>
    `Rule '${d.rule}' needs '${d.need}', which rulebook '${d.rulebook}' does not have. Add '${d.need}' to its rules.`,
  ZR_RULEBOOK_CYCLE: (d: { rulebook: string; path: readonly string[] }) =>
    `The rules of rulebook '${d.rulebook}' need each other in a circle: ${d.path.join(' needs ')}. Move what they share into a third rule.`,
  ZR_RULE_BAD_NOTICE: (d: { event: string; problem: string }) =>
    `Notices of '${d.event}' ${d.problem}. They last a whole number of ms, at least 0, and name cells of the event only.`,
  ZR_RULEBOOK_UNKNOWN_NAME: (d: {
    rulebook: string
    option: string
    name: string
    nearest: string | undefined
  }) =>
    `'${d.option}' of rulebook '${d.rulebook}' names '${d.name}', which is none of its ${d.option === 'offers' ? 'actions' : 'settings'}.${d.nearest === undefined ? '' : ` Did you mean '${d.nearest}'?`} Write rule.name.`,
  ZR_RULEBOOK_BAD_SEATS: (d: { rulebook: string; min: number; max: number }) =>
    `Rulebook '${d.rulebook}' has seats ${d.min} to ${d.max}. Both must be whole numbers, with 1 ≤ min ≤ max ≤ 1000.`,
  ZR_RULEBOOK_UNKNOWN_OPTION: (d: { rulebook: string; rule: string; known: readonly string[] }) =>
    `'${d.rule}' is not an optional rule of rulebook '${d.rulebook}'. It has ${list(d.known) || 'none'}.`,
  ZR_RULEBOOK_UNKNOWN_PRESET: (d: { rulebook: string; preset: string; known: readonly string[] }) =>
    `Rulebook '${d.rulebook}' has no preset '${d.preset}'. It has ${list(d.known) || 'none'}.`,
  ZR_RULEBOOK_NO_ROUND_CONDITION: (d: { rulebook: string; scope: string }) =>
    `Rulebook '${d.rulebook}' has several rounds, but no condition of its verdict decides the ${d.scope}. Use mostAtTime.decides('round') and mostRounds.`,
  ZR_RULEBOOK_NO_TIME_CONDITION: (d: { rulebook: string }) =>
    `Rulebook '${d.rulebook}' has a timed round, but no condition of its verdict can claim when time is up. Add 'mostAtTime' to verdict({ when: […] }).`,
  ZR_OPTION_UNKNOWN: (d: { where: string; issues: readonly string[] }) =>
    `The options of ${d.where} do not fit: ${d.issues.join('; ')}. Fix the spelling, or leave them out.`,
  ZR_SETTING_INVALID: (d: { rule: string; issues: readonly string[] }) =>
    `The settings of rule '${d.rule}' do not fit: ${d.issues.join('; ')}. Change them in the rulebook or in beginMatch.`,
  ZR_SETTING_UNKNOWN_RULE: (d: { rule: string; known: readonly string[] }) =>
    `Settings were given for '${d.rule}', which is not a rule of this rulebook. Its rules are ${list(d.known)}.`,
  ZR_SETTING_FIXED: (d: { rule: string; setting: string }) =>
    `The setting '${d.setting}' of rule '${d.rule}' says who may see what. Set it in the rulebook, not for a match.`,
  ZR_SETTING_NO_SIGHT: (d: { rule: string; setting: string; got: unknown }) =>
    `The setting '${d.setting}' of rule '${d.rule}' must name a sight: 'everyone', 'side', 'near', 'owner' or 'nobody', not ${String(d.got)}.`,
  ZR_SETTING_ASYNC: (d: { rule: string }) =>
    `A schema of rule '${d.rule}' answers with a promise. Use a schema that answers at once.`,
  ZR_STATE_BAD_VALUE: (d: { cell: string; says: string }) =>
    `The cell '${d.cell}' ${d.says}. The step was undone. Fix the handler that wrote it.`,
  ZR_STATE_BAD_RATE: (d: { every: unknown }) =>
    `latest() was given ${String(d.every)} ms. Give it a whole number of ms, at least 1.`,
  ZR_STATE_UNKNOWN_CLOCK: (d: { clock: unknown; known: readonly string[] }) =>
    `time() was given the clock '${String(d.clock)}'. Give it one of ${d.known.join(', ')}, or nothing for play.`,
  ZR_STATE_UNKNOWN_CELL: (d: { cell: string }) =>
    `Unknown cell '${d.cell}'. Declare it in 'state', or fix the spelling.`,
  ZR_STATE_CLOSED: (d: { what: string }) =>
    `'${d.what}' was written outside a step, or in an amendment. State changes only while an input or a timer is handled; an amendment has draft.whenApplied.`,
  ZR_STATE_CLOSED_VALUE: (d: { what: string }): string =>
    d.what === 'list'
      ? 'A list in a cell or a setting was changed in place. Write a new one to the cell: row.cell = […].'
      : `The ${d.what} of a cell was changed in place. Write a new one to the cell: row.cell = new ${d.what === 'set' ? 'Set' : 'Map'}(…).`,
  ZR_STATE_ROW_IN_USE: (d: { table: string; cell: string }) =>
    `A row of '${d.table}' was removed while '${d.cell}' still refers to it. Change the cell first, or declare it as maybe(rowOf(…)) or rowOf(…).whenGone('cascade').`,
  ZR_STATE_NO_ROW: (d: { table: string; id: string }) =>
    `The table '${d.table}' has no row '${d.id}'. Ask with get() first.`,
  ZR_SIGHT_UNKNOWN_GROUP: (d: { group: string }) =>
    `A cell is seen by the group '${d.group}', which no rule has. Declare it in 'groups', or fix the name.`,
  ZR_SIGHT_NOT_READABLE: (d: { rule: string; what: string }) =>
    `A sight or group of rule '${d.rule}' reads ${d.what}. Sights may read state, settings and seats only. Let a handler write a cell, and read that.`,
  ZR_RULEBOOK_TWO_SIDES: (d: { rulebook: string; rules: readonly string[] }) =>
    `Rulebook '${d.rulebook}' has more than one rule that says who is on whose side: ${list(d.rules)}. Keep one of them.`,
  ZR_RULEBOOK_TWO_PLACES: (d: { rulebook: string; rules: readonly string[] }) =>
    `Rulebook '${d.rulebook}' has more than one rule that says who sees where a seat is: ${list(d.rules)}. Keep one of them.`,
  ZR_MATCH_TIME_BACK: (d: { now: number; asked: number }) =>
    `The match is at ${d.now} ms and was asked to go back to ${d.asked} ms. Match time never goes back.`,
  ZR_MATCH_REENTERED: (d: { input: string }) =>
    `A handler submitted '${d.input}' to its own match while a step was running. Call the rule with match.use(…).`,
  ZR_MATCH_ASYNC: (d: { handler: string }) =>
    `The handler '${d.handler}' returned a promise. Fetch what it needs first, and pass it as an input.`,
  ZR_MATCH_CLOSED: (d: { rulebook: string }) =>
    `The state of a match of '${d.rulebook}' was read after it was closed. Read it before, or take a snapshot.`,
  ZR_MATCH_UNKNOWN_VIEWER: (d: { viewer: string }) =>
    `Unknown viewer '${d.viewer}': no seat has that id. A spectator's viewer begins with 'spectator'.`,
  ZR_MATCH_CHAIN: (d: { what: string; most: number }) =>
    `More than ${d.most} ${d.what} followed from one another. Look for a handler that sets itself off.`,
  ZR_MATCH_MISUSED: (d: { what: string; fix: string }) => `${d.what}. ${d.fix}.`,
  ZR_QUESTION_UNKNOWN: (d: { what: string; fix: string }) => `${d.what}. ${d.fix}.`,
  ZR_CHANCE_BAD_RANGE: (d: { from: number; to: number }) =>
    `Chance was asked for a whole number from ${d.from} to ${d.to}. Both must be whole, the first no larger than the second, at most 2^32 apart.`,
  ZR_CHANCE_BAD_WEIGHT: (d: { weight: number }) =>
    `Chance was given a weight of ${d.weight}. Weights are whole, not negative, and sum to at least 1.`,
  ZR_CHANCE_NO_PURPOSE: (d: { got: unknown }) =>
    `Chance was asked for with ${JSON.stringify(d.got)} as its purpose. Name what it is for.`,
  ZR_CHANCE_BAD_SEED: (d: { got: string }) =>
    `A match cannot begin with a seed of ${d.got}. Give text that is not empty, or 32 bytes.`,
  ZR_AMOUNT_BAD_FACTOR: (d: { factor: number }) =>
    `An amount was multiplied by ${d.factor}. A factor is finite, not negative, and has at most three decimals.`,
  ZR_AMOUNT_NOT_WHOLE: (d: { call: string; n: unknown }) =>
    `An amount was amended by ${d.call}(${String(d.n)}). It must be a whole number: round it first.`,
  ZR_AMOUNT_TOO_BIG: (d: { amount: number }) =>
    `An amended amount is ${d.amount}, beyond what a number can hold exactly. Bound it with atMost(…).`,
  ZR_RECORD_UNREADABLE: (d: { line: number; why: string }) =>
    `Line ${d.line} of the record cannot be read: ${d.why}. Cut the record there, or fetch it again.`,
  ZR_RECORD_FOREIGN: (d: { why: string }) =>
    `This is not a record of a Zinc Referee match: ${d.why}. Name one that a demo or a venue wrote.`,
  ZR_RECORD_NO_PLAYER: (_: object) =>
    'The record does not name this player. Give the id that the player joined with.',
  ZR_RECORD_NOT_ERASED: (d: { why: string }) =>
    `The player cannot be erased from this record: ${d.why}. Remove the record if it must not be kept.`,
  ZR_RECORD_OTHER_RULEBOOK: (d: { wanted: string; got: string }) =>
    `The record is of rulebook '${d.wanted}', not of '${d.got}'. Name the rulebook it was made with.`,
  ZR_RECORD_OTHER_PLAN: (d: { rulebook: string; apart: string }) =>
    `The rulebook '${d.rulebook}' has changed since the record was made (${d.apart}). Replay it with the version it was made with.`,
  ZR_RECORD_OTHER_SETTINGS: (d: { rulebook: string; apart: readonly string[] }) =>
    `The record was made with other settings of '${d.rulebook}', which a match cannot set: ${d.apart.join('; ')}. Replay it with those.`,
  ZR_SNAPSHOT_FOREIGN: (d: { why: string }) =>
    `Cannot resume from this snapshot: ${d.why}. Take one of the same version, or give resumeMatch a 'migrate'.`,
  ZR_RECORD_NO_SCENARIO: (d: { why: string }) =>
    `Cannot cut a scenario from this record: ${d.why}. Cut another part.`,
  ZR_SNAPSHOT_DAMAGED: (d: { why: string }) =>
    `The snapshot is damaged: ${d.why}. Go on from an older one and the record's lines after it.`,
  ZR_SNAPSHOT_TAIL_DIFFERS: (d: { line: number; recorded: string; replayed: string }) =>
    `Line ${d.line} of the tail was recorded with the ${d.recorded}, and gives the ${d.replayed}. Pass the lines that came after this snapshot, or set ifTailDiffers: 'go-on'.`,
  ZR_DATA_INVALID: (d: { issues: readonly string[] }) =>
    `The data does not fit: ${d.issues.join('; ')}. Fix the file.`,
  ZR_SCENARIO_INVALID: (d: { issues: readonly string[] }) =>
    `The scenario does not fit: ${d.issues.join('; ')}. Fix the file.`,
} as const

type Messages = typeof own & typeof replicaMessages
const messages: Messages = { ...own, ...replicaMessages }
/** The code of an error of this package, such as `ZR_RULEBOOK_CYCLE`. */
export type ErrorCode = keyof Messages
type DetailsOf<C extends ErrorCode> = Parameters<Messages[C]>[0]

/**
 * An error that a programmer can fix. Recognise it with {@link isRefereeError}, because two copies of the package may
 * meet.
 */
export class RefereeError<C extends ErrorCode = ErrorCode> extends CodedError<C, DetailsOf<C>> {
  constructor(code: C, details: DetailsOf<C>, cause?: unknown) {
    // One signature for all codes: the table pairs each with its details.
    super(code, (messages[code] as (details: DetailsOf<C>) => string)(details), details, cause)
  }
}

/** Every code with which this package throws. */
export const errorCodes: readonly ErrorCode[] = Object.keys(messages) as ErrorCode[]

/** True if something caught is an error of this package, from whichever copy of it. */
export function isRefereeError(error: unknown): error is RefereeError {
  return error instanceof Error && error.name === 'RefereeError' && 'code' in error
}
