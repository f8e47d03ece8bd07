/** What may stand beside the name of a key: names of drawings (`core/sides/icons.ts`). */
export const ICONS = [
  'power',
  'lightbulb',
  'lamp',
  'lamp-ceiling',
  'fan',
  'wind',
  'flame',
  'heater',
  'thermometer',
  'snowflake',
  'droplets',
  'shower-head',
  'lock',
  'door-open',
  'blinds',
  'warehouse',
  'arrow-up-down',
  'hand',
  'bell',
  'gauge',
  'sun-dim',
  'plug',
  'radio',
  'speaker',
  'cooking-pot',
  'coffee',
  'refrigerator',
  'sprout',
  'bed',
  'car',
] as const
export type IconName = (typeof ICONS)[number]

/** What a key may have: an icon of its own, the one of its kind of load, or none. */
export const ICON_CHOICES = ['none', 'auto', ...ICONS] as const
export type IconChoice = (typeof ICON_CHOICES)[number]
