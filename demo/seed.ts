/**
 * Fills a fresh system with the demo, through the same interface that everybody uses. Does nothing
 * where it is there already.
 */
import { Person } from './person'
import { dunlinSlipway } from './dunlinSlipway'
import { kittiwakeHarbour } from './kittiwakeHarbour'
import { petrelStreet } from './petrelStreet'

const origin = process.env.MAST_ORIGIN ?? ''
const password = process.env.MAST_DEMO_PASSWORD ?? ''
const person = new Person(origin)
await person.enter('installer', password)
const there = new Set((await person.sites()).map((s) => s.name))
for (const plan of [kittiwakeHarbour(), petrelStreet(), dunlinSlipway()])
  if (!there.has(plan.site.name)) await person.open(plan)
const dunlin = (await person.sites()).find((s) => s.name === 'Dunlin Slipway')
if (dunlin && !dunlin.proof) {
  console.log('Bringing Dunlin Slipway up on the stand-ins ...')
  await person.bringUp(dunlin.id)
}
