/** The looks, by form: a new one is a row here, in core/design/forms and in core/panels/forms. */
import type { PanelItem } from '../../design/schema'
import type { FormLook } from './facet'
import { DISPLAY, FADER, HOLD, NUMBER, ONE_KEY, ROWS, TIMER } from './keys'
import {
  ANSWERS,
  COLUMN,
  CONNECTION,
  COUNTDOWN,
  DEVICE,
  GAUGE,
  HISTORY,
  READOUT,
  SCENE,
  TEXT,
  TILT,
} from './parts'

type Form = PanelItem['form']
const LOOKS: { [F in Form]: FormLook<Extract<PanelItem, Record<'form', F>>> } = {
  pair: ROWS,
  state: ONE_KEY,
  trigger: ONE_KEY,
  hold: HOLD,
  each: ROWS,
  stepper: ROWS,
  fader: FADER,
  number: NUMBER,
  timer: TIMER,
  shown: DISPLAY,
  readout: READOUT,
  gauge: GAUGE,
  history: HISTORY,
  column: COLUMN,
  tilt: TILT,
  scene: SCENE,
  text: TEXT,
  connection: CONNECTION,
  countdown: COUNTDOWN,
  device: DEVICE,
  answers: ANSWERS,
}

/** How a form looks on the page. */
export function lookOf(form: Form): FormLook {
  return LOOKS[form] as FormLook
}
