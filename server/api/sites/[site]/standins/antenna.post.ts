import { turnAntenna } from '@mast/api'
import { route } from '../../../../http/route'
import { turned } from '../../../../standins/asked'

export default route(turnAntenna, async ({ site, body }) => ({
  readings: await turned(site.id, body),
}))
