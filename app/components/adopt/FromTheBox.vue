<script setup lang="ts">
/**
 * Devices that set themselves up from their box (RFC 8572): who their owner is here, whom makers
 * vouch for, and what a lease has to tell them.
 */
import { bootstrapUris, hexOf, OPTION } from '@mast/core/addressing'
import { bootstrapUrl } from '@mast/core/adoption'
import * as api from '@mast/api'

const site = useSite()
const field = useField()
const known = shallowRef<api.Reply<typeof api.readBootstrap> | null>(null)
const refused = ref<string | undefined>()
const taken = shallowRef<api.FilesTaken | null>(null)
const busy = ref(false)

const serves = computed(() => site.plan?.controller.bootstrap ?? null)
const url = computed(() => (site.model ? bootstrapUrl(site.model) : null))
const params = computed(() => ({ site: site.opened.id }))
const may = computed(() => site.role === 'owner' || site.role === 'engineer')

async function look(): Promise<void> {
  if (!serves.value) return
  known.value = await ask(api.readBootstrap, { params: params.value }).catch(() => known.value)
}
async function doing(act: () => Promise<unknown>): Promise<void> {
  busy.value = true
  refused.value = undefined
  try {
    await act()
    await look()
  } catch (error) {
    refused.value = errorText(error)
  }
  busy.value = false
}
const makeOwner = (): Promise<void> => doing(() => ask(api.makeOwner, { params: params.value }))
const askMaker = (): Promise<void> =>
  doing(async () => {
    taken.value = await ask(api.askStandinsMaker, { params: params.value })
  })
const forgetVoucher = (serial: string): Promise<void> =>
  doing(() => ask(api.forgetVoucher, { params: { ...params.value, serial } }))
const forgetMaker = (digest: string): Promise<void> =>
  doing(() => ask(api.forgetMaker, { params: { ...params.value, digest } }))

const LARGEST = 64 * 1024
async function pick(chosen: File | File[] | null): Promise<void> {
  const files = [chosen ?? []].flat()
  const large = files.find((f) => f.size > LARGEST)
  if (large) {
    refused.value = `${large.name} is larger than any certificate or voucher`
    return
  }
  if (files.length > 0)
    await doing(async () => {
      taken.value = await ask(api.takeMakersFiles, {
        params: params.value,
        body: {
          files: await Promise.all(
            files.map(async (f) => ({
              name: f.name,
              content: base64(new Uint8Array(await f.arrayBuffer())),
            })),
          ),
        },
      })
    })
}
const saveCertificate = (): void =>
  saveAs(`${site.opened.id}-owner.pem`, 'application/x-pem-file', known.value!.owner!.certificate)

interface Line {
  readonly serial: string
  readonly name: string
  readonly says: string
  readonly isFine: boolean
  readonly has: boolean
}
const lines = computed<Line[]>(() => {
  const { model } = site
  if (!model || !known.value) return []
  const of = new Map(known.value.vouchers.map((v) => [v.serial, v]))
  const planned = model.devices.filter((d) => model.profileOf(d.id).adoptable && d.serial)
  const names = new Set(planned.map((d) => d.serial))
  const line = (serial: string, name: string): Line => {
    const v = of.get(serial)
    const isOver = v?.expiresAt != null && Date.parse(v.expiresAt) <= Date.now()
    const until = v?.expiresAt ? `until ${dayText(v.expiresAt)}` : 'for good'
    return {
      serial,
      name,
      has: v !== undefined,
      isFine: v !== undefined && !isOver,
      says: !v
        ? 'nobody vouches for it'
        : isOver
          ? `its maker vouched ${until}; ask for a new one`
          : `its maker vouches ${until}`,
    }
  }
  return [
    ...planned.map((d) => line(d.serial!, d.name)),
    ...known.value.vouchers
      .filter((v) => !names.has(v.serial))
      .map((v) => line(v.serial, 'in no plan here')),
  ]
})
const vouched = computed(() => lines.value.filter((l) => l.isFine).length)
const { shown, rest, more } = useShownRows(() => lines.value)
const octets = computed(() => (url.value ? hexOf(bootstrapUris([url.value])) : ''))
watch([serves, () => field.devices], () => void look(), { immediate: true })
</script>

<template>
  <details v-if="serves" class="box no-print">
    <summary>
      From the box{{ ' '
      }}<span v-if="known?.owner" class="faint">
        {{ vouched }} of {{ lines.length }} vouched for</span
      >
    </summary>
    <p v-if="serves.passTo">
      Devices that ask here are passed on to
      <span class="mono">{{ serves.passTo.host }}:{{ serves.passTo.port }}</span
      >, signed.
    </p>
    <p v-else class="faint">
      A device from its box asks {{ url ? '' : 'the controller' }}<span class="mono">{{ url }}</span
      >, as its lease says, and takes what is signed by the owner for whom its maker vouches (RFC
      8572). Then it is claimed without anybody typing its serial.
    </p>
    <template v-if="known">
      <div v-if="!known.owner" class="row">
        <span>Makers vouch for an owner, and this site has none yet.</span>
        <v-btn v-if="may" color="primary" variant="flat" :loading="busy" @click="makeOwner"
          >Make the owner</v-btn
        >
      </div>
      <template v-else>
        <div class="row">
          <v-btn variant="outlined" @click="saveCertificate">Save its certificate</v-btn>
          <span class="faint"
            >for makers; SHA-256
            <span class="mono">{{ known.owner.digest.slice(0, 16) }}…</span></span
          >
        </div>
        <div v-if="may" class="row">
          <v-file-input
            label="Read files of makers"
            multiple
            density="compact"
            hide-details
            prepend-icon=""
            style="min-width: 220px; max-width: 240px"
            @update:model-value="pick"
          />
          <v-btn v-if="field.standins" variant="outlined" :loading="busy" @click="askMaker"
            >Have the maker of the stand-ins vouch</v-btn
          >
          <span class="faint">their certificates, and a voucher for each device (RFC 8366)</span>
        </div>
      </template>
      <p v-if="taken" role="status">
        {{ countText(taken.taken) }} taken in<template v-if="taken.refused.length"
          >, {{ countText(taken.refused.length) }} not:</template
        >
      </p>
      <p v-for="r in taken?.refused.slice(0, 20)" :key="r.name" class="wrong">
        <span class="mono">{{ r.name }}</span> {{ r.why }}
      </p>
      <table v-if="known.owner && lines.length" class="plain">
        <tbody>
          <tr v-for="l in shown" :key="l.serial">
            <td>{{ l.name }}</td>
            <td class="mono">{{ l.serial }}</td>
            <td>
              <span class="mark wrap" :class="l.isFine ? 'clear' : 'nothing'"
                ><ShellStateShape :kind="l.isFine ? 'clear' : 'nothing'" />{{ l.says }}</span
              >
            </td>
            <td>
              <v-btn
                v-if="may && l.has"
                variant="text"
                size="small"
                :aria-label="`Forget the voucher for ${l.serial}`"
                @click="forgetVoucher(l.serial)"
                >Forget</v-btn
              >
            </td>
          </tr>
        </tbody>
      </table>
      <RowsMore :rest="rest" what="devices" @more="more" />
      <p v-for="m in known.makers" :key="m.digest">
        Maker <b>{{ m.name }}</b>, <span class="mono faint">{{ m.digest.slice(0, 16) }}…</span>
        <v-btn
          v-if="may"
          variant="text"
          size="small"
          :aria-label="`Forget the maker ${m.name}`"
          @click="forgetMaker(m.digest)"
          >Forget</v-btn
        >
      </p>
    </template>
    <p v-if="octets" class="faint">
      A lease server that is not written from here is told option {{ OPTION.bootstrap }}, or
      {{ OPTION.bootstrap6 }} of DHCPv6: <code class="mono octets">{{ octets }}</code>
    </p>
    <Refusal :says="refused" />
  </details>
</template>

<style scoped>
.box {
  margin: 10px 0;
}
.row {
  margin: 8px 0;
}
.octets {
  overflow-wrap: anywhere;
}
</style>
