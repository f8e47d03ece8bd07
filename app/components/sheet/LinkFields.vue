<script setup lang="ts">
/** What belongs to a link: its medium, addresses, pins, and its times. */
import {
  hasRoomBehind,
  hasSpeed,
  isBluetooth,
  isLowEnergy,
  isPeerRadio,
  isShell,
  isUdp,
  isWire,
  onNetwork,
  speaksBytes,
} from '../../../core/design/links/traits'
import { LINK_WORDS } from '../../../core/design/links/rows'
import type { Design, Link } from '../../../core/design/schema'
import { EVERYBODY } from '../../../core/design/links/peer'
import { useDesignStore } from '../../stores/design'
import { mediumOf } from '../../../core/design/links/media'

const props = defineProps<{ design: Design; link: Link }>()
const designs = useDesignStore()
const part = computed(() => designs.partOf(props.link.controllerId) ?? props.design)
const setLink = (patch: Record<string, unknown>) =>
  designs.apply({ type: 'setLink', linkId: props.link.id, patch })
const TIMES = [
  ['minMs', 'Fastest'],
  ['typicalMs', 'Typical'],
  ['p99Ms', '99 of 100 within'],
  ['dropDetectMs', 'Loss noticed after'],
  ['reconnectMs', 'Connects in'],
] as const
/** Short codes and structures have no room for a number. */
const canNumber = computed(() => hasRoomBehind(props.link))
const UUIDS = [
  ['service', 'Service'],
  ['writeTo', 'Commands go to'],
  ['notifyFrom', 'Reports come from'],
] as const
const BAUDS = [9600, 19200, 38400, 57600, 115200]
const title = computed(() => LINK_WORDS[props.link.kind].replace(/^./, c => c.toUpperCase()))
function setNetworks(text: string): void {
  designs.apply({
    type: 'setNetworks',
    networks: text
      .split(',')
      .map(n => n.trim())
      .filter(Boolean),
  })
}
</script>

<template>
  <section>
    <h3 class="title">{{ title }}</h3>
    <el-checkbox
      v-if="mediumOf(link).connects"
      :model-value="link.onConnect"
      @change="
        v => designs.apply({ type: 'reportOnConnect', linkId: link.id, onConnect: v === true })
      "
      >Whole state is sent on connect</el-checkbox
    >
    <p v-else class="second small">
      Nobody connects here, so nothing can be sent on connect: a side that starts has to ask.
    </p>
    <dl class="facts">
      <template v-if="isBluetooth(link)">
        <dt>Radio</dt>
        <dd>
          <el-select
            :model-value="link.radio"
            size="small"
            aria-label="Radio"
            @change="
              (radio: string) => setLink(radio === 'chip' ? { radio, statusPin: null } : { radio })
            "
            ><el-option value="module" label="module on the serial port" /><el-option
              value="chip"
              label="of the chip itself"
          /></el-select>
        </dd>
        <template v-if="link.radio === 'module'"
          ><dt>Connected line</dt>
          <dd>
            <PinSelect
              optional
              :design="part"
              :pin="link.statusPin"
              label="Pin of the connected line"
              @change="statusPin => setLink({ statusPin })"
              @clear="setLink({ statusPin: null })"
            /></dd
        ></template>
      </template>
      <template v-if="isLowEnergy(link)">
        <template v-for="[key, words] in UUIDS" :key="key">
          <dt>{{ words }}</dt>
          <dd>
            <InlineText
              mono
              :value="link[key]"
              :maxlength="36"
              :label="`UUID: ${words.toLowerCase()}`"
              @change="t => setLink({ [key]: t.toLowerCase() })"
            />
          </dd>
        </template>
        <dt title="20 bytes, unless both sides agree on larger packets">In packets of</dt>
        <dd>
          <NumberField
            :value="link.packetBytes"
            :min="20"
            :max="512"
            unit="bytes"
            label="Bytes of a packet"
            @change="packetBytes => setLink({ packetBytes })"
          />
        </dd>
        <dt>A packet every</dt>
        <dd>
          <NumberField
            :value="link.intervalMs"
            :min="8"
            :max="4000"
            unit="ms"
            label="From one connection event to the next"
            @change="intervalMs => setLink({ intervalMs })"
          />
        </dd>
        <dt>Phones at once</dt>
        <dd>
          <NumberField
            :value="link.clients"
            :min="1"
            :max="8"
            unit=""
            label="Phones that it serves at once"
            @change="clients => setLink({ clients })"
          />
        </dd>
      </template>
      <template v-if="isWire(link)">
        <dt>Receives on</dt>
        <dd>
          <PinSelect
            :design="part"
            :pin="link.receivePin"
            label="Pin that receives"
            @change="receivePin => setLink({ receivePin })"
          />
        </dd>
        <dt>Sends on</dt>
        <dd>
          <PinSelect
            :design="part"
            :pin="link.sendPin"
            label="Pin that sends"
            @change="sendPin => setLink({ sendPin })"
          />
        </dd>
      </template>
      <template v-if="hasSpeed(link)">
        <dt>Baud</dt>
        <dd>
          <el-select
            :model-value="link.baud"
            size="small"
            aria-label="Baud"
            @change="(baud: number) => setLink({ baud })"
            ><el-option v-for="b in BAUDS" :key="b" :value="b" :label="String(b)"
          /></el-select>
        </dd>
      </template>
      <template v-if="onNetwork(link)">
        <dt>Network</dt>
        <dd>
          <el-select
            :model-value="link.network"
            size="small"
            aria-label="Network"
            @change="(network: string) => setLink({ network })"
            ><el-option value="own" label="own access point" /><el-option
              value="router"
              label="house router"
          /></el-select>
        </dd>
        <dt>{{ link.network === 'own' ? 'It is called' : 'Joins, in order' }}</dt>
        <dd>
          <InlineText
            :value="design.networks.join(', ') || 'no name yet'"
            :maxlength="140"
            label="names of networks, in the order in which they are tried"
            @change="setNetworks"
          />
        </dd>
        <dt>Address</dt>
        <dd>
          <InlineText
            mono
            :value="link.address"
            :maxlength="80"
            label="address"
            @change="address => setLink({ address })"
          />
        </dd>
      </template>
      <template v-if="isShell(link)">
        <dt>Logs in as</dt>
        <dd>
          <InlineText
            mono
            :value="link.account"
            :maxlength="32"
            label="account"
            @change="account => setLink({ account })"
          />
        </dd>
        <dt>Starts</dt>
        <dd>
          <InlineText
            mono
            :value="link.command"
            :maxlength="80"
            label="command of the console"
            @change="command => setLink({ command })"
          />
        </dd>
        <dt>Sessions at once</dt>
        <dd>
          <NumberField
            :value="link.clients"
            :min="1"
            :max="8"
            unit=""
            label="Sessions at once"
            @change="clients => setLink({ clients })"
          />
        </dd>
      </template>
      <template v-if="isUdp(link)">
        <dt>Port</dt>
        <dd>
          <NumberField
            :value="link.port"
            :min="1"
            :max="65535"
            unit=""
            label="Port"
            @change="port => setLink({ port })"
          />
        </dd>
        <dt>Reports go to</dt>
        <dd>
          <el-select
            :model-value="link.toAll"
            size="small"
            aria-label="Reports go to"
            @change="(toAll: boolean) => setLink({ toAll })"
            ><el-option :value="false" label="who asked last" /><el-option
              :value="true"
              label="everybody in the network"
          /></el-select>
        </dd>
      </template>
      <template v-if="isPeerRadio(link)">
        <dt>Channel</dt>
        <dd>
          <NumberField
            :value="link.channel"
            :min="1"
            :max="13"
            unit=""
            label="Channel"
            @change="channel => setLink({ channel })"
          />
        </dd>
        <dt>Controller is</dt>
        <dd>
          <InlineText
            mono
            :value="link.boardAddress"
            :maxlength="17"
            label="hardware address of the controller"
            @change="boardAddress => setLink({ boardAddress: boardAddress.toUpperCase() })"
          />
        </dd>
        <dt>Other side is</dt>
        <dd>
          <InlineText
            mono
            :value="link.otherAddress === EVERYBODY ? 'everybody' : link.otherAddress"
            :maxlength="17"
            label="hardware address of the other side, or everybody"
            @change="
              a => setLink({ otherAddress: a === 'everybody' ? EVERYBODY : a.toUpperCase() })
            "
          />
        </dd>
        <dt>At most</dt>
        <dd>
          <NumberField
            :value="link.payloadBytes"
            :min="16"
            :max="1470"
            unit="bytes"
            label="Longest message"
            @change="payloadBytes => setLink({ payloadBytes })"
          />
        </dd>
      </template>
      <template v-for="[key, words] in TIMES" :key="key">
        <dt>{{ words }}</dt>
        <dd>
          <NumberField
            :value="link.timing[key]"
            :max="120000"
            unit="ms"
            :label="words"
            @change="v => setLink({ timing: { [key]: v } })"
          />
        </dd>
      </template>
      <dt>Lost while up</dt>
      <dd>
        <NumberField
          :value="link.timing.lossPerMille"
          :max="500"
          unit="‰"
          label="Lost while up, per thousand"
          @change="lossPerMille => setLink({ timing: { lossPerMille } })"
        />
      </dd>
    </dl>
  </section>
  <section>
    <h3 class="title">How it reports</h3>
    <dl class="facts">
      <dt>A value at most every</dt>
      <dd>
        <NumberField
          :value="link.leastMs"
          :max="60000"
          unit="ms"
          label="A value at most every, 0 = no limit"
          @change="leastMs => setLink({ leastMs })"
        />
      </dd>
      <dt>Whole state every</dt>
      <dd>
        <NumberField
          :value="link.everyMs"
          :max="3600000"
          unit="ms"
          label="Whole state every, 0 = never"
          @change="everyMs => setLink({ everyMs })"
        />
      </dd>
      <dt title="Reports that wait while one is on its way; 0: none waits">Reports that wait</dt>
      <dd>
        <NumberField
          :value="link.queue"
          :max="64"
          unit=""
          label="Reports that wait"
          @change="queue => setLink({ queue })"
        />
      </dd>
      <template v-if="canNumber"
        ><dt title="A repeat that carries the number of a command seen lately acts no more">
          Commands carry numbers
        </dt>
        <dd>
          <el-checkbox
            :model-value="link.numbered !== null"
            aria-label="Commands carry numbers"
            @change="v => setLink({ numbered: v === true ? { windowMs: 10_000 } : null })"
          /></dd
      ></template>
      <template v-if="link.numbered"
        ><dt>known again for</dt>
        <dd>
          <NumberField
            :value="link.numbered.windowMs"
            :min="100"
            :max="600000"
            unit="ms"
            label="A number is known again for"
            @change="windowMs => setLink({ numbered: { windowMs } })"
          /></dd
      ></template>
      <template v-if="speaksBytes(link)"
        ><dt title="What a box sends first after it started: its next values then move nothing">
          "I have just started"
        </dt>
        <dd>
          <InlineText
            mono
            :value="link.restartMark || 'no such mark'"
            :maxlength="20"
            label="mark of a start"
            @change="t => setLink({ restartMark: t === 'no such mark' ? '' : t })"
          /></dd
      ></template>
    </dl>
  </section>
</template>

<style scoped>
dd {
  overflow-wrap: anywhere;
}
h3 {
  margin-bottom: 6px;
}
p {
  margin: 0 0 6px;
}
</style>
