/** Findings of a document; nothing is stored. */
export default defineEventHandler(async event =>
  workJson(event, 'check', { design: await assertDesign(event, await readJson(event)) }),
)
