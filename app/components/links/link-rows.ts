/** What can be typed of each kind of link. */
import type { Component } from 'vue'
import type { LinkKind } from '../../../core/design/schema'
import BluetoothLink from './BluetoothLink.vue'
import LowEnergyLink from './LowEnergyLink.vue'
import NetworkFields from './NetworkFields.vue'
import PeerLink from './PeerLink.vue'
import ShellLink from './ShellLink.vue'
import UdpLink from './UdpLink.vue'
import WireLink from './WireLink.vue'

/**
 * Rows within a list of facts; each is given `link`, its design as `design` and the part of its
 * board as `part`, and tells what of the link changes.
 */
export const LINK_FIELDS: Record<LinkKind, Component> = {
  'bluetooth-serial': BluetoothLink,
  'low-energy': LowEnergyLink,
  wire: WireLink,
  http: NetworkFields,
  udp: UdpLink,
  peer: PeerLink,
  shell: ShellLink,
}
