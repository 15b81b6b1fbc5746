/** J-15: a second line by a cellular router, on when the first leads nowhere. */
import { applyEdits, editCall as edit } from '@mast/core/plan'
import type { Exercise } from './exercise'
import { makers, plainHandOff, smallSite, type SmallSite } from './small'

const site: SmallSite = {
  name: 'Dotterel Taxis',
  space: '10.75.0.0/16',
  octet: '75',
  number: 89_151,
}
const target = (kind: 'ping' | 'tcp', address: string, port: number | null) => ({
  kind,
  target: address,
  port,
})

export const twoLines: Exercise = {
  id: 'two-lines',
  job: 'J-15',
  name: site.name,
  task:
    'Calls must not stop for longer than a minute. A cellular router beside the line: access point ' +
    'name, order, how often is tested and how many failures count, when it goes back. Then pull the plug.',
  decides: 'Seconds from the pulled plug until the desk gets out again, and back.',
  begin: () =>
    applyEdits(smallSite(site), [
      edit('changeDevice', { id: 'gateway', changes: { licencesHeld: ['second-line'] } }),
      edit('addUplink', {
        id: 'spare',
        name: 'Cellular line',
        rank: 1,
        portId: 'gateway.wan2',
        handOff: {
          ...plainHandOff,
          mode: 'cellular',
          nameServers: [],
          accessPointName: null,
          addressKind: 'carrier-grade',
          downMbps: 40,
          upMbps: 10,
          cap: { gigabytes: 20, pricePerGb: 3 },
        },
        startSeconds: 15,
      }),
      makers(site).host('cell', 'Cellular router', 'cellular-router', 6, 'staff', {
        addressing: { mode: 'automatic', segmentId: null, address: null, gateway: null },
        licencesHeld: ['sim'],
      }),
    ]),
  decisions: [
    edit('recordHandOff', { uplinkId: 'spare', facts: { accessPointName: 'data.example' } }),
    edit('changeSite', {
      failover: {
        back: { kind: 'after-quiet', seconds: 120 },
        switchSeconds: 1,
        toleratedSeconds: 60,
      },
    }),
    edit('changeUplink', {
      id: 'line',
      changes: {
        startSeconds: 20,
        watch: {
          tests: [target('ping', '198.51.100.53', null), target('tcp', '192.0.2.200', 443)],
          need: 'any',
          intervalSeconds: 5,
          answerSeconds: 2,
          failures: 4,
          successes: 3,
          linkLoss: 'at-once',
        },
      },
    }),
  ],
  leaves: [],
  shows: ['Front desk reaches the web on the internet'],
}
