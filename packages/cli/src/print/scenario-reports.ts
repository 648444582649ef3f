import { formatElapsed } from 'zinc-referee'
import type { ScenarioResult, Unmet } from 'zinc-referee/testing'

/** A scenario that was played, with its file. */
export interface Played {
  readonly file: string
  readonly result: ScenarioResult
}

/** True if all came as expected, and no code of the mode has thrown. */
export const isMet = ({ unmet, faults }: ScenarioResult): boolean => unmet.length === 0 && faults.length === 0

/** What did not come as expected, in words. */
export const unmetText = ({ step, at, what, expected, found }: Unmet): string =>
  `step ${step}, ${formatElapsed(at)}: ${what}: expected ${expected}, found ${found}`

const reasons = ({ unmet, faults }: ScenarioResult): readonly string[] => [
  ...unmet.map(unmetText),
  ...faults.map(({ handler, error, times }) => `${handler} has thrown ${times} times: ${error}`),
]

/** The results as TAP 14. */
export function tapText(all: readonly Played[]): string {
  const points = all.flatMap(({ file, result }, at) => [
    `${isMet(result) ? 'ok' : 'not ok'} ${at + 1} - ${result.scenario.replaceAll('#', '\\#')}`,
    ...(isMet(result)
      ? []
      : [
          '  ---',
          `  file: ${JSON.stringify(file)}`,
          '  reasons:',
          ...reasons(result).map((why) => `    - ${JSON.stringify(why)}`),
          '  ...',
        ]),
  ])
  return ['TAP version 14', `1..${all.length}`, ...points].join('\n')
}

const escapes: { readonly [char: string]: string } = {
  '&': '&amp;',
  '<': '&lt;',
  '>': '&gt;',
  '"': '&quot;',
}
const xml = (text: string): string =>
  text
    .replaceAll(/[&<>"]/g, (char) => escapes[char] ?? char)
    .replaceAll(/[^\t\n\r\u0020-\uFFFD\u{10000}-\u{10FFFF}]/gu, '�')

/** The results as JUnit XML, which most servers for continuous integration read. */
export function junitText(all: readonly Played[]): string {
  const failures = all.filter(({ result }) => !isMet(result)).length
  const cases = all.map(({ file, result }) => {
    const begin = `    <testcase name="${xml(result.scenario)}" classname="${xml(file)}" file="${xml(file)}"`
    if (isMet(result)) return `${begin}/>`
    const [first = '', ...more] = reasons(result)
    return `${begin}>\n      <failure message="${xml(first)}">${xml([first, ...more].join('\n'))}</failure>\n    </testcase>`
  })
  return [
    '<?xml version="1.0" encoding="UTF-8"?>',
    '<testsuites>',
    `  <testsuite name="scenarios" tests="${all.length}" failures="${failures}">`,
    ...cases,
    '  </testsuite>',
    '</testsuites>',
    '',
  ].join('\n')
}
