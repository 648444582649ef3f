export { type ErrorCode, errorCodes, isRefereeError, RefereeError } from './errors.ts'
export { HashSum, hashText } from './hash.ts'
export { canonicalJson, flat } from './json.ts'
export { assertCellName, assertName } from './names.ts'
