<script setup lang="ts">
/** The three questions, answered in one line each. */
import { tightest, yearWords, type Reckoned } from '@mast/core/bridges'
import type { Answered } from '../shell/Answers.vue'
import { useBridge } from './useBridge'

const { reckoned, bridge } = useBridge()
const ruleWords = ({ verdict }: Reckoned['budget']['toB']['sending']): string =>
  verdict.ok ? `${verdict.law.words || 'as licensed'} (${verdict.law.source}). ` : ''
const heldWords = ({ heldToB }: Reckoned): string =>
  heldToB ? `${heldToB.step.name}, ${heldToB.step.mbps} Mbit/s on the air,` : 'no step'
const said = computed<Answered[]>(() => {
  const r = reckoned.value
  if (!r) return []
  const { toB, toA, facts, losses } = r.budget
  const worse =
    toB.levelDbm - (toB.steps[0]?.leastDbm ?? 0) <= toA.levelDbm - (toA.steps[0]?.leastDbm ?? 0)
      ? toB
      : toA
  const times = worse === toB ? r.timesToB : r.timesToA
  const tight = tightest(losses.points)
  const holds: Answered =
    worse.marginDb === null
      ? {
          kind: 'cautions',
          question: 'Will it hold?',
          answer: `${worse.levelDbm.toFixed(0)} dBm arrive; what the unit needs is not known`,
          why: 'enter the sensitivities of its data sheet',
        }
      : {
          kind: worse.step === null ? 'blockers' : r.heldToA && r.heldToB ? 'clear' : 'cautions',
          question: 'Will it hold?',
          answer:
            worse.step === null
              ? `No: ${worse.levelDbm.toFixed(0)} dBm arrive, ${worse.steps[0]!.leastDbm} dBm are needed`
              : `${worse.levelDbm.toFixed(0)} dBm, ${worse.marginDb.toFixed(0)} dB over the ` +
                `least; down ${yearWords(times[0]!.belowMinutes)} a year`,
          why: tight
            ? `${Math.round(Math.max(-9, tight.share) * 100)} % of the first Fresnel zone is free ` +
              `where it is tightest, at ${Math.round(tight.atM)} m`
            : '',
        }
  const verdicts = [toB, toA].map((d) => d.sending)
  const bad = verdicts.find((v) => !v.verdict.ok)
  const over = verdicts.find((v) => v.verdict.ok && v.eirpDbm > v.verdict.limitDbm + 1e-9)
  const lawful: Answered = {
    kind: bad || over ? 'blockers' : 'clear',
    question: 'Is it lawful?',
    answer:
      bad && !bad.verdict.ok
        ? `No: ${bad.verdict.reason}`
        : over?.verdict.ok
          ? `No: ${over.eirpDbm.toFixed(0)} dBm EIRP, and ${over.verdict.limitDbm.toFixed(0)} dBm are allowed`
          : `${toB.sending.eirpDbm.toFixed(0)} and ${toA.sending.eirpDbm.toFixed(0)} dBm EIRP; ` +
            `set ${toB.sending.powerDbm} and ${toA.sending.powerDbm} dBm`,
    why: `${ruleWords(toB.sending)}Check with your regulator.`,
  }
  const carries: Answered = {
    kind: r.clear.airtime > 1 ? 'blockers' : r.held.airtime > 1 ? 'cautions' : 'clear',
    question: 'Is it fast enough?',
    answer: toB.step
      ? `${Math.round(Math.min(toB.step.mbps * facts.a.unit.dataShare, r.socketMbps))} Mbit/s of data ` +
        `${facts.a.unit.duplex === 'time' ? 'both ways together' : 'each way'}; ` +
        `${(r.carried.toB + r.carried.toA).toFixed(0)} are asked, ` +
        `${Math.round(r.clear.airtime * 100)} % of the air`
      : 'Nothing passes',
    why:
      `${heldWords(r)} ` +
      `is held ${bridge.value?.availabilityPercent} % of the year; ${r.carried.how}`,
  }
  return [holds, lawful, carries]
})
</script>

<template>
  <ShellAnswers :said="said" />
</template>
