/**
 * What the program of a panel page holds: all of it. scripts/panel-runtime.mjs puts another module
 * in this place for pages that have to fit into a small board, without what they do not need.
 */
export { RichView as View } from './rich-view'
export { openHttp } from './http'
export { openSerial } from './serial'
export { openLowEnergy } from './low-energy'
export { settings } from './settings'
