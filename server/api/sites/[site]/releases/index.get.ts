import { readReleases } from '@mast/api'
import { route } from '../../../../http/route'
import { releasesOf } from '../../../../releases/list'

export default route(readReleases, ({ site }) => releasesOf(site.id))
