<script setup lang="ts">
/** What is known of the chosen tunnel, in one line each. */
import { followSeconds, overSwitches } from '@mast/core/tunnels'
import { exactDuration } from '@mast/core/words'
import { useTunnels } from './useTunnels'

const site = useSite()
const { reckoned, peers } = useTunnels()
/** Of the first line that another takes over from. */
const over = computed(() => {
  const [first] = reckoned.value ? overSwitches(site.opened.model, reckoned.value) : []
  if (!first) return []
  const name = site.opened.plan.uplinks[first.lineId]?.name ?? ''
  return [
    {
      question: `And when ${name} dies?`,
      kind: first.seconds ? ('clear' as const) : ('cautions' as const),
      answer: first.seconds
        ? `silent for ${exactDuration(first.seconds.worst)} at most`
        : 'it stays silent',
      why: first.why,
    },
  ]
})
const said = computed(() => {
  const r = reckoned.value
  if (!r) return []
  const { tunnel: t } = r
  const isIke = t.protocol === 'ikev2'
  const without = peers.value.filter(
    (p) => !(isIke ? p.peer.sharedKeyRef : p.peer.publicKey),
  ).length
  const whose = isIke ? 'shared with this end' : 'of their own'
  const isKeyed = isIke || t.publicKey !== null
  return [
    {
      question: 'Who reaches it?',
      kind: r.called || t.kind === 'provider' ? 'clear' : 'blockers',
      answer: r.called ? `${r.called.host}, UDP ${r.called.port}` : (r.whyNot ?? ''),
      why: t.dynamicName
        ? `The name follows the line; a change is seen after ${followSeconds(t.dynamicName).worst} s at most`
        : '',
    },
    {
      question: 'How large are packets?',
      kind: 'clear',
      answer: `${r.size.mtu} octets`,
      why: r.isSizeTyped
        ? 'as typed'
        : `a path of ${r.size.pathMtu} without what goes around ` +
          `(${r.size.outer === 'ipv6' ? 'IPv6' : 'IPv4'} outside); ` +
          `TCP segments ${r.size.segment.ipv4} and ${r.size.segment.ipv6}`,
    },
    {
      question: 'What is to be handed out?',
      kind: without > 0 || !isKeyed ? 'cautions' : 'clear',
      answer:
        peers.value.length === 0
          ? 'nobody is in it yet'
          : without === 0
            ? `${peers.value.length} of ${peers.value.length} have a key ${whose}`
            : `${without} of ${peers.value.length} have no key yet`,
      why: isKeyed ? '' : 'this end has no key yet either',
    },
    ...over.value,
  ] as const
})
</script>

<template>
  <ShellAnswers :said="said" />
</template>
