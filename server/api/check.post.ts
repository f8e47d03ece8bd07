import { check } from '../../core/checks/check'

/** Findings of a document; nothing is stored. */
export default defineEventHandler(async event => ({ findings: check(assertDesign(await readJson(event)), verdictCache).findings }))
