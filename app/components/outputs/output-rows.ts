/** What can be typed of each kind of output. */
import type { Component } from 'vue'
import type { OutputKind } from '../../../core/design/schema'
import ChoiceOutput from './ChoiceOutput.vue'
import FollowerOutput from './FollowerOutput.vue'
import HeldOutput from './HeldOutput.vue'
import LevelOutput from './LevelOutput.vue'
import OpposedOutput from './OpposedOutput.vue'
import PulsedOutput from './PulsedOutput.vue'
import SwitchedOutput from './SwitchedOutput.vue'

/** Rows within a list of facts; each is given `output`, and tells what of it changes. */
export const OUTPUT_FIELDS: Record<OutputKind, Component> = {
  switched: SwitchedOutput,
  pulsed: PulsedOutput,
  held: HeldOutput,
  opposed: OpposedOutput,
  level: LevelOutput,
  follower: FollowerOutput,
  choice: ChoiceOutput,
}
