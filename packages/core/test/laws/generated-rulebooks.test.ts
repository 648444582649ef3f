import { test } from 'vitest'
import { forAll } from '../generated/for-all.ts'
import { holdLaws } from '../generated/hold-laws.ts'

test('patched = fresh for every viewer at every flush, for two appliers; a step that is refused or fails leaves everything as it was; both kinds of rows agree; record and snapshot give the same hashes', () => {
  forAll(holdLaws)
})
