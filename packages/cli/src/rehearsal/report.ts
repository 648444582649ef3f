import { formatElapsed } from 'zinc-referee'
import type { Rehearsal, RehearsalsCompared, Share } from 'zinc-referee/testing'
import { columns, dim, pairs, strong } from '../print/output.ts'
import type { Rehearsed } from './csv.ts'
import type { KeptFinding } from './keep-findings.ts'
import { sharesOf } from './shares-of.ts'

/** So many choices are shown, the most frequent ones. */
const CHOICES = 12

/** Returns how matches went, as blocks of text. */
export function rehearsalText(went: Rehearsal, title: string): readonly string[] {
  const { matches, over, endings, lengths, scores, actions, choices } = went
  const [tenth, half, nineTenths] = lengths.map((ms) => formatElapsed(ms))
  const won = sharesOf(went)
  return [
    `${strong(title)}   ${matches} matches, ${over === matches ? 'all' : over} to their end`,
    pairs([
      ['length', `${half} in the middle, eight of ten from ${tenth} to ${nineTenths}`],
      ...(scores === undefined
        ? []
        : ([
            ['scores', `${scores[1]} in the middle, eight of ten from ${scores[0]} to ${scores[2]}`],
          ] as const)),
      ['endings', endings.map(({ name, times }) => `${name} ${times}`).join(', ')],
    ]),
    ...(won.length === 0
      ? []
      : [columns(['wins', 'times', 'of', 'share', '95 % between'], won.map(shareRow))]),
    columns(
      ['action', 'a match'],
      actions.map(({ name, times }) => [name, (times / matches).toFixed(1)]),
    ),
    ...(choices.length === 0
      ? []
      : [
          columns(
            ['chosen', 'a match'],
            choices.slice(0, CHOICES).map(({ name, times }) => [name, (times / matches).toFixed(1)]),
          ),
        ]),
  ]
}

/** Returns what is wrong, with the records that show it. */
export function findingsText(findings: readonly KeptFinding[], named: string): readonly string[] {
  return findings.map(({ kind, says, times, match, record, inputs, explained }) =>
    [
      `${strong(kind)}   ${says}`,
      pairs([
        ['found', `${times === 1 ? 'once' : `${times} times`}, first in match ${match}`],
        [
          'record',
          `${record}   ${inputs.now === inputs.before ? `${inputs.now} inputs` : `${inputs.now} of ${inputs.before} inputs`}`,
        ],
        ...(explained === undefined ? [] : ([['explain', explained]] as const)),
      ]),
      dim(
        kind === 'leak'
          ? `npx zinc-referee sightcheck ${record}${named}`
          : `npx zinc-referee replay ${record}${named} --steps`,
      ),
    ].join('\n'),
  )
}

/** Returns what a setting does: a line for each of its values. */
export function variedText(all: readonly Rehearsed[], title: string, setting: string): readonly string[] {
  const names = [...new Set(all.flatMap(({ went }) => sharesOf(went).map(({ name }) => name)))]
  return [
    `${strong(title)}   ${all[0]?.went.matches ?? 0} matches for each value of ${setting}`,
    columns(
      [setting, 'to the end', 'length', ...names],
      all.map(({ value = '', went }) => [
        value,
        String(went.over),
        formatElapsed(went.lengths[1]),
        ...names.map((name) => {
          const found = sharesOf(went).find((each) => each.name === name)
          if (found === undefined) return ''
          const [, , , share = '', between = ''] = shareRow(found)
          return `${share} (${between})`
        }),
      ]),
    ),
  ]
}

/** Returns what changed from one version to another. What is the same but for chance is left out. */
export function comparedText(
  { shares, actions, length }: RehearsalsCompared,
  title: string,
  { matches, compare = '' }: { readonly matches: number; readonly compare?: string },
): readonly string[] {
  const apart = shares.filter(({ isApart }) => isApart)
  return [
    `${strong(title)}   ${matches} matches each, against ${compare}`,
    pairs([['length', `${formatElapsed(length.before)} before, ${formatElapsed(length.now)} now`]]),
    apart.length === 0
      ? `Of ${shares.length} shares of wins and endings, none differs by more than chance.`
      : columns(
          ['share', 'before', 'now', '95 % between'],
          apart.map(({ what, name, before, now, interval: [low, high] }) => [
            `${what} ${name}`,
            percent(before),
            percent(now),
            `${signed(low)} and ${signed(high)}`,
          ]),
        ),
    columns(
      ['action', 'before', 'now'],
      actions.map(({ name, before, now }) => [name, before.toFixed(1), now.toFixed(1)]),
    ),
  ]
}

const signed = (part: number): string => `${part < 0 ? '−' : '+'}${percent(Math.abs(part))}`

const shareRow = ({ name, times, of, interval: [low, high] }: Share): string[] => [
  name,
  String(times),
  String(of),
  percent(times / of),
  `${percent(low)} and ${percent(high)}`,
]

const percent = (part: number): string => `${Math.round(part * 100)} %`
