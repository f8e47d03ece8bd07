// The package types its whole, two megabytes of it; single drawings are typed here.
// eslint-disable-next-line @typescript-eslint/triple-slash-reference
/// <reference path="./lucide.d.ts" />
/**
 * Icons as SVG, inlined: a page asks nobody for them. Drawings by the Lucide contributors (ISC
 * licence, in the package `lucide`).
 */
import Power from 'lucide/dist/esm/icons/power.mjs'
import Lightbulb from 'lucide/dist/esm/icons/lightbulb.mjs'
import Lamp from 'lucide/dist/esm/icons/lamp.mjs'
import LampCeiling from 'lucide/dist/esm/icons/lamp-ceiling.mjs'
import Fan from 'lucide/dist/esm/icons/fan.mjs'
import Wind from 'lucide/dist/esm/icons/wind.mjs'
import Flame from 'lucide/dist/esm/icons/flame.mjs'
import Heater from 'lucide/dist/esm/icons/heater.mjs'
import Thermometer from 'lucide/dist/esm/icons/thermometer.mjs'
import Snowflake from 'lucide/dist/esm/icons/snowflake.mjs'
import Droplets from 'lucide/dist/esm/icons/droplets.mjs'
import ShowerHead from 'lucide/dist/esm/icons/shower-head.mjs'
import Lock from 'lucide/dist/esm/icons/lock.mjs'
import DoorOpen from 'lucide/dist/esm/icons/door-open.mjs'
import Blinds from 'lucide/dist/esm/icons/blinds.mjs'
import Warehouse from 'lucide/dist/esm/icons/warehouse.mjs'
import ArrowUpDown from 'lucide/dist/esm/icons/arrow-up-down.mjs'
import Hand from 'lucide/dist/esm/icons/hand.mjs'
import Bell from 'lucide/dist/esm/icons/bell.mjs'
import Gauge from 'lucide/dist/esm/icons/gauge.mjs'
import SunDim from 'lucide/dist/esm/icons/sun-dim.mjs'
import Plug from 'lucide/dist/esm/icons/plug.mjs'
import Radio from 'lucide/dist/esm/icons/radio.mjs'
import Speaker from 'lucide/dist/esm/icons/speaker.mjs'
import CookingPot from 'lucide/dist/esm/icons/cooking-pot.mjs'
import Coffee from 'lucide/dist/esm/icons/coffee.mjs'
import Refrigerator from 'lucide/dist/esm/icons/refrigerator.mjs'
import Sprout from 'lucide/dist/esm/icons/sprout.mjs'
import Bed from 'lucide/dist/esm/icons/bed.mjs'
import Car from 'lucide/dist/esm/icons/car.mjs'
import { ICONS, type IconName } from '../design/icon-names'
import { html } from './escape'

/** Elements of a drawing on a square of 24: their names and attributes. */
type Drawing = readonly (readonly [
  element: string,
  attributes: Readonly<Record<string, string | number>>,
])[]

const DRAWINGS: Record<IconName, Drawing> = {
  power: Power,
  lightbulb: Lightbulb,
  lamp: Lamp,
  'lamp-ceiling': LampCeiling,
  fan: Fan,
  wind: Wind,
  flame: Flame,
  heater: Heater,
  thermometer: Thermometer,
  snowflake: Snowflake,
  droplets: Droplets,
  'shower-head': ShowerHead,
  lock: Lock,
  'door-open': DoorOpen,
  blinds: Blinds,
  warehouse: Warehouse,
  'arrow-up-down': ArrowUpDown,
  hand: Hand,
  bell: Bell,
  gauge: Gauge,
  'sun-dim': SunDim,
  plug: Plug,
  radio: Radio,
  speaker: Speaker,
  'cooking-pot': CookingPot,
  coffee: Coffee,
  refrigerator: Refrigerator,
  sprout: Sprout,
  bed: Bed,
  car: Car,
}

/** An icon as SVG, hidden from readers of screens: what it is for stands beside it. */
export function iconSvg(name: IconName): string {
  return svg(inside(name))
}

/** What a page says of the drawings in it; "" where there are none. */
export function iconNotice(page: string): string {
  return page.includes('np-icon') ? '<!-- Icons: Lucide contributors, ISC licence -->\n' : ''
}

/** A page in which a drawing that stands there several times is drawn once and used again. */
export function drawnOnce(page: string): string {
  if (!page.includes('np-icon')) return page
  return ICONS.reduce((text, name) => {
    const [before = '', second = null, ...more] = text.split(iconSvg(name))
    if (second === null || !more.length) return text
    const first = `${before}${svg(`<g id="np-i-${name}">${inside(name)}</g>`)}${second}`
    return [first, ...more].join(svg(`<use href="#np-i-${name}"/>`))
  }, page)
}

function svg(inner: string): string {
  return `<svg class="np-icon" viewBox="0 0 24 24" aria-hidden="true">${inner}</svg>`
}

function inside(name: IconName): string {
  return DRAWINGS[name]
    .map(
      ([element, attributes]) =>
        `<${element} ${Object.entries(attributes)
          .map(([key, value]) => `${key}="${html(String(value))}"`)
          .join(' ')}/>`,
    )
    .join('')
}
