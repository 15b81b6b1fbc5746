import { readBootstrap } from '@mast/api'
import { derOf, pemOf } from '@mast/protocol/zeroTouch'
import { digestOfDer, makersListed, vouchersOf } from '../../../../bootstrap/fromMakers'
import { ownerOf } from '../../../../bootstrap/owner'
import { db } from '../../../../db/database'
import { route } from '../../../../http/route'

export default route(readBootstrap, async ({ site }) => {
  const owner = await ownerOf(db(), site.id)
  const der = owner && derOf(owner.certificate)
  return {
    owner: der && { certificate: pemOf('CERTIFICATE', der), digest: digestOfDer(der) },
    makers: await makersListed(site.id),
    vouchers: (await vouchersOf(db(), site.id)).map(({ serial, createdAt, expiresAt }) => ({
      serial,
      createdAt,
      expiresAt,
    })),
  }
})
