export { areas, areasOf } from './areas/areas.ts'
export { type Direction, directionOf, directions } from './areas/compass.ts'
export type { AreaSettings, Point } from './areas/shape.ts'
export { ballotOf } from './ballot/ballot.ts'
export { type Count, type CountSettings, countVotes, type Vote } from './ballot/count.ts'
export type { BallotOpening } from './ballot/shape.ts'
export { type BoostKind, boostsOf } from './boosts.ts'
export {
  allDone,
  type Claim,
  type Condition,
  condition,
  type Field,
  firstTo,
  lastStanding,
  longestHold,
  mostAtTime,
  mostRounds,
  parity,
  type Side,
  surrender,
  timeUp,
} from './conditions.ts'
export { credit } from './credit/credit.ts'
export { errands } from './errands/errands.ts'
export type { ErrandAsked } from './errands/shape.ts'
export { evenAbsent, evenFrozen, evenOut, inPhase, moving, type Phase, whileUp } from './gates.ts'
export { around, type Edge, isOn, joins, reach, type Size, type Spot, spotsOf } from './grid/board.ts'
export { type Border, bordersOf, longestEdge } from './grid/borders.ts'
export { gridOf } from './grid/grid.ts'
export { linesOf, longestRun, runsThrough } from './grid/lines.ts'
export type { GridOptions, Placed } from './grid/shape.ts'
export { holds } from './holds.ts'
export { idle } from './idle.ts'
export { type MajorityRules, majority } from './majority.ts'
export { notebookOf } from './notebook.ts'
export { phases } from './phases/phases.ts'
export type { Gift } from './piles/cards.ts'
export { contentsOf } from './piles/contents.ts'
export { type PilesOptions, pilesOf } from './piles/piles.ts'
export type { Card, PlaceKind, Places, Where } from './piles/shape.ts'
export { type RankStyle, rankGroups } from './ranks.ts'
export { reaction, reactions, type WindowAsked } from './reactions.ts'
export { respawn } from './respawn/respawn.ts'
export type { Place, PlaceAsked } from './respawn/shape.ts'
export type { Camp } from './roles/camp.ts'
export type { RoleKind, RoleKinds } from './roles/kinds.ts'
export { rolesOf } from './roles/roles.ts'
export { roster } from './roster/roster.ts'
export { rounds } from './rounds.ts'
export { type Measure, type Standing, scores } from './scores.ts'
export { type Chosen, type Highest, type SealedOptions, sealedOf } from './sealed/sealed.ts'
export type { SealedCell } from './sealed/shape.ts'
export { largestRemainder } from './shares.ts'
export { type Counter, sheetOf } from './sheet.ts'
export { type SignalKind, signalsOf } from './signals.ts'
export { teams } from './teams/teams.ts'
export { type OrderAsked, type Step, turnStep } from './turns/shape.ts'
export { turns } from './turns/turns.ts'
export { conditionsOf, verdict } from './verdict/verdict.ts'
export { type Blow, vitals } from './vitals/vitals.ts'
export { firstToHold, mostHeld } from './zones/conditions.ts'
export type { ZoneConfig, ZonePlace } from './zones/shape.ts'
export { zones } from './zones/zones.ts'
