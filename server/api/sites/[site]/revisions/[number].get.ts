import { readRevision } from '@mast/api'
import { db } from '../../../../db/database'
import { route } from '../../../../http/route'
import { Refused } from '../../../../refusal'
import { planAt } from '../../../../sites/plans'

export default route(readRevision, async ({ params, site }) => {
  const { number } = params
  if (number > site.head) throw new Refused('not-there', `the newest revision is ${site.head}`)
  return { number, plan: await planAt(db(), site.id, number) }
})
