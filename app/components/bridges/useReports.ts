/** What the controller's last report says that a unit hears of the other end of a bridge. */
import type { Bridge } from '@mast/core/plan'
import type { EndName } from '@mast/core/bridges'

export interface ReportedReading {
  readonly dbm: number | null
  /** When the report came (ISO 8601). */
  readonly at: string
}

export function useReports(bridge: Ref<Bridge | null>, end: Ref<EndName>) {
  const site = useSite()
  const field = useField()
  return computed<ReportedReading | null>(() => {
    const { plan } = site.opened
    const link = bridge.value && plan.links[bridge.value.linkId]
    const port = link && plan.ports[link[end.value]]
    const device = port && field.devices.find((d) => d.deviceId === port.deviceId)
    const path = device?.paths.find((p) => p.port === port?.name)
    return path && device?.lastHeardAt ? { dbm: path.dbm, at: device.lastHeardAt } : null
  })
}
