import { usbPorts } from '../../live/usb-ports'

/** Serial ports of this computer that a board may be on. */
export default defineEventHandler(() => usbPorts())
