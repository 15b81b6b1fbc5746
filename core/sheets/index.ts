/**
 * The line of stops, from left to right. The line itself, its keys, the drawer of sites, findings,
 * tests, bench and pictures go by this list.
 */
import { stillOpen } from './handOver'
import { defineSheet, planSheet, progressMark } from './sheet'

const has = (map: object): boolean => Object.keys(map).length > 0

export const sheets = [
  planSheet({
    id: 'survey',
    name: 'Survey',
    question: 'May I unplug the old line? What is in the boxes?',
    isBegun: (plan) => has(plan.devices),
    start: 'record the line, then list the equipment.',
    first: ({ devices }) => (devices === 0 ? 'List the equipment' : null),
  }),
  planSheet({
    id: 'addresses',
    name: 'Addresses',
    question: 'What is where, and what is left?',
    isBegun: (plan) => Object.values(plan.segments).some((s) => s.subnet),
    start: 'add the segments, with how many hosts each will see.',
  }),
  planSheet({
    id: 'wiring',
    name: 'Wiring',
    question: 'Does every VLAN get to where it is needed?',
    isBegun: (plan) => has(plan.links),
    start: 'draw the first cable.',
  }),
  planSheet({
    id: 'uplinks',
    name: 'Uplinks',
    question: 'How long are we down, how often, and what does it cost?',
    isBegun: (plan) => has(plan.uplinks),
    start: 'record a line in Survey and give it a socket in Wiring.',
  }),
  planSheet({
    id: 'wifi',
    name: 'Wi-Fi',
    question: 'Who is served, by what, and where do they land?',
    isBegun: (plan) => has(plan.wirelessNetworks),
    start: 'add a network, where there is to be one.',
  }),
  planSheet({
    id: 'bridges',
    name: 'Bridges',
    question: 'Will it hold, is it lawful, and how do I aim it?',
    isBegun: (plan) => has(plan.bridges),
    start: 'draw a link through the air in Wiring.',
  }),
  planSheet({
    id: 'policy',
    name: 'Policy',
    question: 'Who may reach whom, and which rule decides?',
    isBegun: (plan) => has(plan.intents),
    start: 'state the usual, then change it pair by pair.',
  }),
  planSheet({
    id: 'tunnels',
    name: 'Tunnels',
    question: 'Who reaches what from outside, and what do I hand out?',
    isBegun: (plan) => has(plan.tunnels),
    start: 'add a tunnel for people, for another site, or to a provider.',
  }),
  defineSheet({
    id: 'bring-up',
    name: 'Bring-up',
    question: 'What now?',
    mark: ({ steps }) => progressMark(steps.done, steps.all, 'done'),
    next: (s) => (s.stepsDone < s.steps ? (s.nextStep ?? 'Go on with the run sheet') : null),
  }),
  defineSheet({
    id: 'adopt',
    name: 'Adopt',
    question: 'Who is in, and what does each wait for?',
    mark({ devices: d }) {
      if (d.wrong > 0) return { kind: 'cautions', count: d.wrong, word: `${d.wrong} to look at` }
      if (d.isSending) return { kind: 'progress', word: 'sending' }
      if (d.unsent > 0) return { kind: 'cautions', count: d.unsent, word: `${d.unsent} unsent` }
      if (d.inService === 0 && d.begun > 0) return { kind: 'progress', word: `0 of ${d.all}` }
      return progressMark(d.inService, d.all, 'all in')
    },
    next: () => null,
  }),
  defineSheet({
    id: 'prove',
    name: 'Prove',
    question: 'Is it true?',
    mark({ proof }) {
      if (!proof) return { kind: 'nothing', word: 'nothing yet' }
      const { contradicts, isProven, isCurrent } = proof
      if (contradicts > 0)
        return { kind: 'blockers', count: contradicts, word: `${contradicts} contradict` }
      if (isProven && isCurrent) return { kind: 'proven', word: 'proven' }
      return { kind: 'progress', word: isCurrent ? 'in part' : 'older plan' }
    },
    next: ({ proof, revision }) =>
      proof?.proven && proof.revision === revision ? null : 'Run the proof',
  }),
  defineSheet({
    id: 'hand-over',
    name: 'Hand over',
    question: 'Can I leave? This is the document, as it will print.',
    mark: (standing) =>
      standing.counts && stillOpen(standing).length === 0
        ? { kind: 'clear', word: 'ready' }
        : { kind: 'nothing', word: 'not yet' },
    next: () => 'Hand it over',
  }),
] as const

export type SheetId = (typeof sheets)[number]['id']
/** Sheets of the plan, which findings of the plan belong to. */
export type PlanSheetId = Extract<(typeof sheets)[number], { isOfPlan: true }>['id']
export const planSheetIds = sheets
  .filter((s) => 'isOfPlan' in s)
  .map((s) => s.id) as readonly PlanSheetId[]

/**
 * The key of each: the digits as they lie on the keyboard, then the row of letters under them.
 */
const KEYS = '1234567890qwertyuiop'
export const keyOf = (id: SheetId): string => KEYS[sheets.findIndex((s) => s.id === id)]!
export const sheetOfKey = (key: string): SheetId | undefined => sheets[KEYS.indexOf(key)]?.id

export * from './handOver'
export * from './sheet'
