import { asc, eq } from 'drizzle-orm'
import { findingsOf, marksOf } from '@mast/core/findings'
import { runSheetOf } from '@mast/core/bringup'
import { siteModel } from '@mast/core/topology'
import { rollOf } from '../adoption/devices'
import { db } from '../db/database'
import { members, sites } from '../db/schema'
import { signedInRoute } from '../http/handlers'
import { latestProof } from '../proof/run'
import { planOf } from '../sites/plans'
import { stepsOf } from '../steps/steps'

/** The drawer: every site of the account with how far it is. */
export default signedInRoute(undefined, async ({ account }) => {
  const rows = await db().select({ id: sites.id, head: sites.head }).from(sites).innerJoin(members, eq(members.siteId, sites.id)).where(eq(members.accountId, account.id)).orderBy(asc(sites.createdAt))
  return Promise.all(rows.map(async ({ id, head }) => {
    const { plan } = await planOf(db(), id)
    const model = siteModel(plan)
    const roll = await rollOf(id)
    const proof = await latestProof(id)
    const steps = runSheetOf(model)
    const done = new Set((await stepsOf(id)).map((s) => s.stepId))
    return {
      id, revision: head, name: plan.site.name, country: plan.site.country,
      devices: model.devices.length, segments: model.segments.length, adoptable: roll.devices.length,
      inService: roll.devices.filter((d) => d.state === 'in-service').length, marks: marksOf(findingsOf(plan)),
      steps: steps.length, stepsDone: steps.filter((s) => done.has(s.id)).length, nextStep: steps.find((s) => !done.has(s.id))?.title ?? null,
      proof: proof ? { at: proof.at, revision: proof.revision, ...proof.body.count } : null,
    }
  }))
})
