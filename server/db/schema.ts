/** Tables: the newest revision of each design, and every revision ever acknowledged. */
import { index, integer, json, pgTable, primaryKey, text, timestamp } from 'drizzle-orm/pg-core'
import type { Design } from '../../core/design/schema'

export const designs = pgTable('designs', {
  id: text('id').primaryKey(),
  name: text('name').notNull(),
  place: text('place').notNull(),
  revision: integer('revision').notNull(),
  document: json('document').$type<Design>().notNull(),
  updatedAt: timestamp('updated_at', { withTimezone: true }).notNull().defaultNow(),
  /** Deleted designs are kept for 30 days and can be restored. */
  deletedAt: timestamp('deleted_at', { withTimezone: true }),
}, table => [index('designs_updated').on(table.updatedAt)])

export const revisions = pgTable('revisions', {
  designId: text('design_id').notNull().references(() => designs.id, { onDelete: 'cascade' }),
  number: integer('number').notNull(),
  /** What was changed, in words. */
  words: text('words').notNull(),
  document: json('document').$type<Design>().notNull(),
  createdAt: timestamp('created_at', { withTimezone: true }).notNull().defaultNow(),
}, table => [primaryKey({ columns: [table.designId, table.number] })])
