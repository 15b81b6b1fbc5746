<script setup lang="ts">
/** The revisions that were sent to the devices, and sending the next. */
const site = useSite()
const field = useField()
const open = ref(false)
const refused = ref<string | undefined>()
const all = computed(() => field.releases?.releases ?? [])
const latest = computed(() => all.value[0])
const sending = computed(() => (latest.value?.state === 'sending' ? latest.value : undefined))
const standing = computed(() => all.value.find((r) => r.number === field.releases?.standing))
const maySend = computed(() => site.role === 'owner' || site.role === 'engineer')
const words = {
  waits: 'waits for its wave',
  fetches: 'fetches',
  holds: 'holds it',
  tries: 'tries it',
  kept: 'keeps it',
} as const
const name = (id: string): string => site.plan?.devices[id]?.name ?? id
const underWay = useShownRows(
  () => field.releases?.underWay ?? [],
  () => 12,
)
const count = (n: number, one: string): string => `${n} ${one}${n === 1 ? '' : 's'}`
</script>

<template>
  <section v-if="field.loaded" class="releases" aria-label="What was sent">
    <template v-if="sending">
      <p class="head">
        <span class="mark cautions"
          ><ShellStateShape kind="cautions" />Release {{ sending.number }} is being sent: wave
          {{ sending.wave }} of {{ sending.waves }}</span
        >
        <v-btn
          v-if="maySend"
          size="small"
          variant="outlined"
          @click="
            field.stopRelease(sending.number).then((r) => {
              refused = r
            })
          "
          >Stop, and take it back</v-btn
        >
      </p>
      <ul class="wave">
        <li v-for="d in underWay.shown.value" :key="d.deviceId">
          <b>{{ name(d.deviceId) }}</b>{{ ' ' }}
          <span class="faint">wave {{ d.wave }}, {{ words[d.at] }}</span>
        </li>
      </ul>
      <RowsMore :rest="underWay.rest.value" what="devices" @more="underWay.more" />
    </template>
    <p v-else class="head">
      <span v-if="!standing"
        >Nothing was sent to devices yet.
        <template v-if="maySend">The first claim sends the plan as it is then.</template
        ><template v-else>An engineer sends it.</template></span
      >
      <span v-else
        >Devices have <b>release {{ standing.number }}</b> of revision {{ standing.revision }},
        {{ timeText(standing.at) }}<template v-if="standing.who">, {{ standing.who }}</template
        ><template v-if="standing.note">: {{ standing.note }}</template
        >.</span
      >
      <span v-if="field.unsent" class="mark cautions"
        ><ShellStateShape kind="cautions" />The plan has changes for
        {{ count(field.unsent, 'device') }} that nobody sent</span
      >
      <v-btn
        v-if="maySend && (field.unsent || !standing)"
        size="small"
        :color="field.unsent ? 'primary' : undefined"
        :variant="field.unsent ? 'flat' : 'outlined'"
        @click="open = true"
        >Send to devices{{ field.unsent ? ` (${field.unsent})` : '' }}</v-btn
      >
    </p>
    <p v-if="latest?.state === 'stopped' && latest.wave > 0" class="mark blockers wrap">
      <ShellStateShape kind="blockers" />Release {{ latest.number }} was stopped in wave
      {{ latest.wave }} of {{ latest.waves }}: {{ latest.why }}.
      {{
        latest.wave > 1
          ? 'The waves before it keep it; the others have what they had.'
          : 'Every device has what it had before.'
      }}
    </p>
    <Refusal :says="refused" />
    <AdoptSendDialog v-model="open" />
  </section>
</template>

<style scoped>
.releases {
  border-bottom: 1px solid var(--hair);
  margin-bottom: 10px;
  padding-bottom: 6px;
}
.head {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
  align-items: center;
  margin: 0 0 6px;
}
.wave {
  list-style: none;
  padding: 0;
  margin: 0 0 6px;
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(220px, 1fr));
  gap: 0 16px;
}
</style>
