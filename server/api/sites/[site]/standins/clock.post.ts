import { clockSchema } from '@mast/standins/control'
import { siteRoute } from '../../../../http/handlers'
import { setSpeed } from '../../../../standins/client'

/** Sets how much faster than the wall clock the stand-ins run. */
export default siteRoute('installer', clockSchema, async ({ site, body }) => ({
  standins: await setSpeed(site.id, body.speed),
}))
