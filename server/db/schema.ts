/**
 * Tables: the newest revision of each design, its revisions, secrets, which no document holds,
 * records of what was tried, and devices that may come in over the network.
 */
import {
  boolean,
  index,
  integer,
  json,
  pgTable,
  primaryKey,
  serial,
  text,
  timestamp,
  uniqueIndex,
} from 'drizzle-orm/pg-core'
import type { Design } from '../../core/design/schema'

export const designs = pgTable(
  'designs',
  {
    id: text('id').primaryKey(),
    name: text('name').notNull(),
    place: text('place').notNull(),
    revision: integer('revision').notNull(),
    document: json('document').$type<Design>().notNull(),
    updatedAt: timestamp('updated_at', { withTimezone: true }).notNull().defaultNow(),
    /** Deleted designs are kept for 30 days and can be restored. */
    deletedAt: timestamp('deleted_at', { withTimezone: true }),
  },
  table => [index('designs_updated').on(table.updatedAt)],
)

export const revisions = pgTable(
  'revisions',
  {
    designId: text('design_id')
      .notNull()
      .references(() => designs.id, { onDelete: 'cascade' }),
    number: integer('number').notNull(),
    /** What was changed, in words. */
    words: text('words').notNull(),
    document: json('document').$type<Design>().notNull(),
    createdAt: timestamp('created_at', { withTimezone: true }).notNull().defaultNow(),
  },
  table => [primaryKey({ columns: [table.designId, table.number] })],
)

/**
 * Words, PINs and keys of links. They are never part of a document, a revision or an export that
 * does not ask for them.
 */
export const secrets = pgTable(
  'secrets',
  {
    designId: text('design_id')
      .notNull()
      .references(() => designs.id, { onDelete: 'cascade' }),
    linkId: text('link_id').notNull(),
    value: text('value').notNull(),
    /** As the vault seals it; those of before lie open until the next start. */
    sealed: boolean('sealed').notNull().default(false),
    setAt: timestamp('set_at', { withTimezone: true }).notNull().defaultNow(),
  },
  table => [primaryKey({ columns: [table.designId, table.linkId] })],
)

/** What was tried with a design, and how it went: drills and proofs. */
export const records = pgTable(
  'records',
  {
    id: serial('id').primaryKey(),
    designId: text('design_id')
      .notNull()
      .references(() => designs.id, { onDelete: 'cascade' }),
    revision: integer('revision').notNull(),
    kind: text('kind').notNull(),
    title: text('title').notNull(),
    passed: integer('passed').notNull(),
    of: integer('of').notNull(),
    body: json('body').$type<unknown>().notNull(),
    createdAt: timestamp('created_at', { withTimezone: true }).notNull().defaultNow(),
  },
  table => [index('records_of_design').on(table.designId, table.id)],
)

/** Devices that were paired. Of a key only its hash is kept. */
export const devices = pgTable(
  'devices',
  {
    id: serial('id').primaryKey(),
    name: text('name').notNull(),
    keyHash: text('key_hash').notNull(),
    pairedAt: timestamp('paired_at', { withTimezone: true }).notNull().defaultNow(),
  },
  table => [uniqueIndex('devices_key').on(table.keyHash)],
)
