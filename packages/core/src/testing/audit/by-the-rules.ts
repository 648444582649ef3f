/** What the built-in rules tell of secrets by what happens. */
export const byTheRules: { readonly [secret: string]: string } = {
  'verdict.wishes.surrender': 'whoever has given up is out, and the round may be over',
  'vitals.body.health': 'who has nothing left goes down, in front of everyone',
  'vitals.body.max': 'who has nothing left goes down, in front of everyone',
  'vitals.body.shield': 'who has nothing left goes down, in front of everyone',
  'vitals.body.shieldMax': 'who has nothing left goes down, in front of everyone',
  'vitals.body.armour': 'who has nothing left goes down, in front of everyone',
  'respawn.orders.life': 'who is ordered up stands up',
  'respawn.orders.place': 'who is ordered up stands there',
  'respawn.orders.arrived': 'who has arrived stands up',
}
