/** Scenes, and the rules that set loads by themselves. */
import { defineEdit, type PatchOf } from './define'
import type { Rule, Scene } from '../schema'
import { dropSceneKeys, forgetScenes, listed, ruleOf, sceneOf } from './parts'
import { freshId } from '../ids'

export const scenesEdits = {
  addScene: defineEdit<{ name: string; sets: Scene['sets'] }>({
    apply: (d, a) => {
      d.scenes.push({ id: freshId(a.name, 'scene', d.scenes), name: a.name, sets: a.sets })
    },
    words: (_, a) => `Scene ${a.name} added`,
  }),
  setScene: defineEdit<{ sceneId: string; patch: { name?: string; sets?: Scene['sets'] } }>({
    apply: (d, a) => {
      Object.assign(sceneOf(d, a.sceneId), a.patch)
      forgetScenes(d)
    },
    words: (d, a) =>
      `Scene ${sceneOf(d, a.sceneId).name}: ${a.patch.name ? `renamed to ${a.patch.name}` : 'what it sets changed'}`,
  }),
  removeScene: defineEdit<{ sceneId: string }>({
    apply: (d, a) => {
      sceneOf(d, a.sceneId)
      d.scenes = d.scenes.filter(s => s.id !== a.sceneId)
      for (const link of d.links) Reflect.deleteProperty(link.scenes, a.sceneId)
      dropSceneKeys(d)
      forgetScenes(d)
    },
    words: (d, a) => `Scene ${sceneOf(d, a.sceneId).name} removed with all that asked for it`,
  }),
  addRule: defineEdit<{ rule: Rule }>({
    apply: (d, a) => {
      d.rules.push({ ...a.rule, id: freshId(a.rule.name, 'rule', d.rules) })
    },
    words: (_, a) => `Rule ${a.rule.name} added`,
  }),
  setRule: defineEdit<{ ruleId: string; patch: PatchOf<Rule, 'id'> }>({
    apply: (d, a) => {
      const rule = ruleOf(d, a.ruleId)
      // Another condition has other members.
      if (typeof a.patch.when === 'string' && a.patch.when !== rule.when)
        d.rules[d.rules.indexOf(rule)] = { ...a.patch, id: rule.id } as Rule
      else Object.assign(rule, a.patch, { id: rule.id })
    },
    words: (d, a) =>
      `Rule ${ruleOf(d, a.ruleId).name}: ${typeof a.patch.when === 'string' ? 'another condition' : listed(a.patch) || 'what it sets changed'}`,
  }),
  removeRule: defineEdit<{ ruleId: string }>({
    apply: (d, a) => {
      const rule = ruleOf(d, a.ruleId)
      d.rules = d.rules.filter(r => r !== rule)
    },
    words: (d, a) => `Rule ${ruleOf(d, a.ruleId).name} removed`,
  }),
}
