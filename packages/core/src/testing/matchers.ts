import { RefereeError } from '../kit/index.ts'
import type { Ruling } from '../rule/index.ts'
import type { AnyMatch } from '../rulebook/index.ts'
import { fits, seenAt, textOf } from './seen.ts'

/** What `expect.extend` of Vitest takes for each matcher. */
interface Matched {
  readonly pass: boolean
  message(): string
}
type Cells = { readonly [name: string]: unknown }

/** Checks of rulings and of what viewers are shown, for the types of `expect`. */
export interface RefereeMatchers<R = unknown> {
  /** The ruling allows what was asked. */
  toBeAccepted(): R
  /** The ruling refuses it with this code, and with these details among its own. */
  toBeRefused(code: string, details?: Cells): R
  /** In a match, the view of this viewer has these values at these paths. */
  toShow(viewer: string, cells: Cells): R
  /** In a match, the view of this viewer has nothing at these paths. */
  toHide(viewer: string, ...paths: readonly string[]): R
  /** In a match, this viewer has been sent a notice of this name with these cells, and it has not expired. */
  toTell(viewer: string, notice: string, cells?: Cells): R
}

const answer = (pass: boolean, says: (not: string) => string): Matched => ({
  pass,
  message: () => says(pass ? 'not ' : ''),
})

/**
 * Matchers for Vitest: `expect.extend(refereeMatchers)`. For their types, declare `interface Matchers<T> extends
 * RefereeMatchers<T> {}` in the module 'vitest'.
 */
export const refereeMatchers: {
  readonly [M in keyof RefereeMatchers]: (
    received: unknown,
    ...given: Parameters<RefereeMatchers[M]>
  ) => Matched
} = {
  toBeAccepted: (ruling) =>
    answer(isAccepted(ruling), (not) => `It should ${not}be accepted, and is ${said(ruling)}.`),
  toBeRefused: (ruling, code, details = {}) =>
    answer(
      !isAccepted(ruling) && Object(ruling).code === code && fits(Object(ruling).details, details),
      (not) =>
        `It should ${not}be refused with ${code}${Object.keys(details).length === 0 ? '' : ` ${textOf(details)}`}, and is ${said(ruling)}.`,
    ),
  toShow(played, viewer, cells) {
    const apart = Object.entries(cells).flatMap(([path, wanted]) => {
      const found = seenAt(matchOf(played), viewer, path)
      return textOf(found) === textOf(wanted) ? [] : [line(path, textOf(wanted), textOf(found))]
    })
    return answer(apart.length === 0, (not) =>
      not === ''
        ? `The view of ${viewer} differs:\n${apart.join('\n')}`
        : `The view of ${viewer} should not have ${textOf(cells)}.`,
    )
  },
  toHide(played, viewer, ...paths) {
    const shown = paths.flatMap((path) => {
      const found = seenAt(matchOf(played), viewer, path)
      return found === undefined ? [] : [line(path, 'nothing', textOf(found))]
    })
    return answer(shown.length === 0, (not) =>
      not === ''
        ? `The view of ${viewer} differs:\n${shown.join('\n')}`
        : `${viewer} should see ${paths.join(', ')}.`,
    )
  },
  toTell(played, viewer, notice, cells = {}) {
    const came = standing(matchOf(played), viewer).filter(({ name }) => name === notice)
    const all = came.map((each) => textOf(each.cells)).join(', ') || 'none'
    return answer(
      came.some((each) => fits(each.cells, cells)),
      (not) => `${viewer} should ${not}be told ${notice} ${textOf(cells)}; its notices are: ${all}.`,
    )
  },
}

/** The match itself, or that of `playMatch`. */
const matchOf = (played: unknown): AnyMatch => Object(played).match ?? played

const isAccepted = (ruling: unknown): boolean => Object(ruling).ok === true

function said(ruling: unknown): string {
  const { code, details } = Object(ruling) as Partial<Ruling & { readonly ok: false }>
  if (isAccepted(ruling)) return 'accepted'
  return code === undefined ? 'no ruling' : `refused with ${code}${details ? ` ${textOf(details)}` : ''}`
}

const line = (path: string, wanted: string, found: string): string =>
  `  ${path}\n    expected   ${wanted}\n    found      ${found}`

/** The notices that a viewer who comes now is sent. One that is open would begin again by that. */
function standing(match: AnyMatch, viewer: string): ReturnType<AnyMatch['addViewer']>['notices'] {
  if (match.viewers.includes(viewer))
    throw new RefereeError('ZR_MATCH_MISUSED', {
      what: `toTell was asked of '${viewer}', who is an open viewer`,
      fix: 'Look at the notices that flush gives it',
    })
  const { notices } = match.addViewer(viewer)
  match.removeViewer(viewer)
  return notices
}
