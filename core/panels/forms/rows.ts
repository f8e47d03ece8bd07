/** The forms, by name: a new one is a row here, in core/design/forms and in core/sides/forms. */
import type { PanelItem } from '../../design/schema'
import type { FormFacet } from './facet'
import { FADER, NUMBER, ONE_KEY, ROWS, TIMER } from './keys'
import {
  COLUMN,
  COUNTDOWN,
  DISPLAY,
  DEVICE,
  GAUGE,
  HISTORY,
  LINE,
  READOUT,
  SCENE,
  TEXT,
  TILT,
} from './parts'

const FORMS: Record<PanelItem['form'], FormFacet> = {
  pair: ROWS,
  state: ONE_KEY,
  trigger: ONE_KEY,
  hold: ONE_KEY,
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
  connection: LINE,
  countdown: COUNTDOWN,
  device: DEVICE,
  answers: LINE,
}

/** How a form stands on a panel. */
export function formRow(form: PanelItem['form']): FormFacet {
  return FORMS[form]
}
