/**
 * What the program of a panel page holds: all of it. scripts/panel-runtime.mjs puts another module
 * in this place for pages that have to fit into a small board, without what they do not need.
 */
export { RichView as View } from './rich-view'
export { openBytes } from './byte-transports'
export { settings } from './settings'
