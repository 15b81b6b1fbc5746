/**
 * C-52: pages of devices that can be opened from segments that do not administer. What guests,
 * cameras and the like reach is another rule's matter.
 */
import { decideService, isOpen, matrixOf, mayAdminister } from '../../policy'
import { inPlan, editCall, holdsPort, MANAGED } from '../../plan'
import { defineRule } from '../../findings/rule'
import { DECIDES_BY } from '../decidesBy'

/** TCP ports of device pages: secure shell and web (IANA service names ssh, http, https). */
const PAGE_PORTS = [22, 80, 443]
const restricted = ['guests', 'cameras', 'instruments', 'payments', 'voice']

export default defineRule({
  id: 'policy/management-open',
  severity: 'caution',
  catches: ['C-52'],
  title: 'Device pages can be opened from outside management',
  sheet: 'policy',
  reads: DECIDES_BY,
  *check(model) {
    const ids = Object.values(model.plan.intents)
      .filter((i) => i.from === 'internet' && i.to === MANAGED && i.action === 'allow')
      .map((i) => i.id)
    if (model.gateway && ids.length > 0) {
      const pages = { id: 'pages', name: 'pages', protocol: 'tcp' as const }
      const open = PAGE_PORTS.filter((port) => {
        const d = decideService(model.plan, 'internet', MANAGED, { ...pages, ports: [port] })
        return d.allowed || d.hours !== null
      })
      if (open.length > 0)
        yield {
          severity: 'blocker',
          subjects: [model.gateway.id, 'internet', ...ids],
          text: `The internet may open the page of ${model.gateway.name} (TCP ${open.join(', ')}).`,
          why:
            'It is found within hours, and then one password stands between anybody and the ' +
            'whole network. Come in by a tunnel.',
          fixes: [
            {
              label: 'Close it to the internet',
              edits: [editCall('clearIntents', { from: 'internet', to: MANAGED })],
            },
          ],
        }
    }
    const management = model.segments.filter(
      (s) =>
        mayAdminister(s) &&
        model
          .membersOf(s.id)
          .some(
            (d) => model.profileOf(d.id).adoptable || model.profileOf(d.id).kind === 'controller',
          ),
    )
    if (management.length === 0) return
    const matrix = matrixOf(model.plan)
    for (const to of management)
      for (const from of model.segments) {
        if (mayAdminister(from) || restricted.includes(from.purpose)) continue
        const open = matrix
          .cell(from.id, to.id)!
          .services.filter(
            (s) =>
              isOpen(s) &&
              inPlan(model.plan.services, s.serviceId).protocol === 'tcp' &&
              PAGE_PORTS.some((p) => holdsPort(inPlan(model.plan.services, s.serviceId).ports, p)),
          )
        if (open.length === 0) continue
        const pages = model
          .membersOf(to.id)
          .filter(
            (d) => model.profileOf(d.id).adoptable || model.profileOf(d.id).kind === 'controller',
          ).length
        yield {
          subjects: [from.id, to.id],
          text:
            `From ${from.name} the pages of the devices in ${to.name} can be opened ` +
            `(${open.map((s) => inPlan(model.plan.services, s.serviceId).name).join(', ')}).`,
          why:
            'One stolen password or one infected desk is then enough to change the network. ' +
            'Give who administers a device in management instead.',
          numbers: [{ label: 'pages in reach', value: String(pages) }],
          fixes: [
            {
              label: `Keep ${from.name} out of ${to.name}`,
              edits: [
                editCall('denyPairs', {
                  from: from.id,
                  to: [to.id],
                  reason: 'device pages are for management only',
                }),
              ],
            },
          ],
        }
      }
  },
})
