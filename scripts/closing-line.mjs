// A reporter that writes `N passed, N failed` when everything else has been said.
export default class ClosingLine {
  onTestRunEnd(modules, errors) {
    let passed = 0
    let failed = errors.length
    for (const module of modules) {
      let failedHere = 0
      for (const test of module.children.allTests()) {
        const { state } = test.result()
        if (state === 'passed') passed++
        else failedHere++ // a skipped test is no passed test
      }
      failed += failedHere === 0 && module.state() === 'failed' ? 1 : failedHere
    }
    process.once('exit', () => process.stdout.write(`${passed} passed, ${failed} failed\n`))
  }
}
