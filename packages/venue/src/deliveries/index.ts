export { type Deliver, Outbox } from './outbox.ts'
export { type DeliveryAddress, postTo } from './post-verdict.ts'
export { type Verdict, verdictOf } from './verdict.ts'
