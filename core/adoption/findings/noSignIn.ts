/** C-71: accounts that a service on the internet keeps, for a controller that does not get there. */
import { defineRule } from '../../findings/rule'
import { DECIDES_BY } from '../../policy/decidesBy'
import { editCall } from '../../plan'
import { decideService } from '../../policy'

const HTTPS = { id: 'https', name: 'HTTPS', protocol: 'tcp' as const, ports: [443] }

export default defineRule({
  id: 'adoption/no-sign-in',
  severity: 'caution',
  catches: ['C-71'],
  title: 'Nobody can sign in to the controller',
  sheet: 'wiring',
  reads: DECIDES_BY,
  *check({ plan, controller, segment }) {
    if (plan.controller.accounts !== 'hosted' || !controller?.addressing.segmentId) return
    const { allowed, rule } = decideService(plan, controller.id, 'internet', HTTPS)
    if (allowed) return
    yield {
      subjects: [controller.id],
      text:
        `Accounts of the controller are kept on the internet, and ${controller.name} in ` +
        `${segment(controller.addressing.segmentId).name} does not get there: ${rule.text}.`,
      why:
        'Whoever signs in is asked for there. With an account of its own it needs nobody else, also ' +
        'while the line is down.',
      fixes: [
        {
          label: 'Keep accounts in the controller',
          edits: [editCall('setController', { accounts: 'local' })],
        },
      ],
    }
  },
})
