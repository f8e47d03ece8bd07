/** What can stand on a panel, by form: what people call it. */
import type { Design, PanelItem, PanelKey, PanelPart } from '../schema'

interface FormWords {
  /** In a sentence: "a pair of keys". */
  words: string
  /** In a list to choose from: "pair of keys". */
  name: string
}

/** Forms of what commands a load. */
export const KEY_FORMS = {
  pair: { words: 'a pair of keys', name: 'pair of keys' },
  state: { words: 'one key with state', name: 'one key' },
  trigger: { words: 'a key that triggers', name: 'trigger' },
  hold: { words: 'a key to hold', name: 'hold' },
  each: { words: 'a key for each value', name: 'key for each' },
  stepper: { words: 'keys for more and less', name: 'more and less' },
  fader: { words: 'a fader', name: 'fader' },
  number: { words: 'a typed number', name: 'number' },
  timer: { words: 'a timer', name: 'timer' },
  shown: { words: 'what it is, in large letters', name: 'large display' },
} satisfies Record<PanelKey['form'], FormWords>

type PartOf<Form extends PanelPart['form']> = Extract<PanelPart, { form: Form }>
type PartForms = {
  [Form in PanelPart['form']]: FormWords & {
    /** How one of them is called. */
    title(design: Design, part: PartOf<Form>): string
  }
}
type Reading = Extract<PanelPart, { sensorId: string }>

const sensorName = (design: Design, { sensorId }: Reading): string =>
  design.sensors.find(s => s.id === sensorId)?.name ?? sensorId

/** What a device can tell of itself, and in which unit. */
export const DEVICE_READINGS: Record<PartOf<'device'>['reads'], { title: string; unit: string }> = {
  battery: { title: 'Battery here', unit: '%' },
  tilt: { title: 'Tilt here', unit: '\u00B0' },
  position: { title: 'Position here', unit: '' },
}

/** Forms of what else stands there. */
const PART_FORMS: PartForms = {
  readout: { words: 'a readout', name: 'readout', title: sensorName },
  gauge: { words: 'a gauge', name: 'gauge', title: sensorName },
  history: { words: 'a history', name: 'history', title: sensorName },
  column: { words: 'a level column', name: 'column', title: sensorName },
  tilt: { words: 'a tilt field', name: 'tilt', title: sensorName },
  scene: {
    words: 'a scene key',
    name: 'scene key',
    title: (design, { sceneId }) => design.scenes.find(s => s.id === sceneId)?.name ?? sceneId,
  },
  text: { words: 'a text', name: 'text', title: (_, { text }) => text },
  connection: {
    words: 'the connection line',
    name: 'connection line',
    title: () => 'Connection',
  },
  countdown: { words: 'a kitchen timer', name: 'kitchen timer', title: () => 'Kitchen timer' },
  device: {
    words: 'a reading of the device',
    name: 'device',
    title: (_, { reads }) => DEVICE_READINGS[reads].title,
  },
  answers: { words: 'the answer line', name: 'answer line', title: () => 'Answers' },
}

const FORMS: Record<PanelItem['form'], FormWords> = { ...KEY_FORMS, ...PART_FORMS }

/** What people call a form. */
export function formWords(form: PanelItem['form']): FormWords {
  return FORMS[form]
}

/** How a part of a panel is called. */
export function partTitle(design: Design, part: PanelPart): string {
  return PART_FORMS[part.form].title(design, part as never)
}
