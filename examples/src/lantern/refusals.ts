/** Refusals of the market. */
export const refusals = {
  'hook-taken': 'A lantern hangs on that hook. Choose a free one.',
  'fetched-this-turn': 'You have fetched wicks in this turn. Dip in the next one.',
  'nothing-beside': 'A lantern must hang beside another. Choose a hook next to one.',
  'other-price': 'That is not the price. Burn as many wicks as it names.',
  'not-in-hand': 'Your hand does not hold those wicks. Choose some that it holds.',
  'too-few-wicks': 'You do not hold that many wicks. Bid less.',
}
