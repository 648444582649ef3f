import { writeFileSync } from 'node:fs'

/**
 * A reporter that counts what passed and failed. It prints `N passed, N failed` when everything else has been said, or
 * writes the counts into the file that ZR_TEST_COUNTS names, with the files whose process never started: they were not
 * tested, so scripts/test.mjs runs them again.
 */
export default class ClosingLine {
  onTestRunStart(specifications) {
    this.files = specifications.map(({ moduleId }) => moduleId)
  }

  onTestRunEnd(modules, errors) {
    let passed = 0
    let failed = 0
    for (const module of modules) {
      let failedHere = 0
      for (const test of module.children.allTests()) {
        const { state } = test.result()
        if (state === 'passed') passed++
        else failedHere++ // a skipped test is no passed test
      }
      failed += failedHere === 0 && module.state() === 'failed' ? 1 : failedHere
    }
    const unstarted = errors.flatMap(({ message }) => {
      const [, files = ''] = /Failed to start \w+ worker for test files (.*)\.$/.exec(message ?? '') ?? []
      return this.files.filter((file) => files.split(', ').includes(file))
    })
    const others = errors.filter(({ message }) => !/Failed to start \w+ worker/.test(message ?? ''))
    failed += others.length
    const counts = process.env.ZR_TEST_COUNTS
    if (counts !== undefined) writeFileSync(counts, JSON.stringify({ passed, failed, unstarted }))
    else
      process.once('exit', () =>
        process.stdout.write(`${passed} passed, ${failed + unstarted.length} failed\n`),
      )
  }
}
