import { bigint, boolean, int, mysqlTable, primaryKey, varchar } from 'drizzle-orm/mysql-core';
import { bytes, id, json, key, moment } from './columns';

/** Tables of what goes beyond a single run: telling others, batches, how long things are kept. */

/** What happened, as a log that can be told again. */
export const notice = mysqlTable('notice', {
  id: id().primaryKey(),
  type: varchar({ length: 60 }).$type<import('@/core/telling/notice').NoticeType>().notNull(),
  runId: id().notNull(),
  pipelineKey: key().notNull(),
  data: json().notNull(),
  at: moment().notNull(),
  /** Every listener of that moment has its telling. */
  spread: boolean().notNull(),
});

/** Who is told, by signed webhook. */
export const listener = mysqlTable('listener', {
  key: key().primaryKey(),
  name: varchar({ length: 200 }).notNull(),
  url: varchar({ length: 1000 }).notNull(),
  /** Of what; empty: of everything. */
  types: json().notNull(),
  secret: bytes().notNull(),
  enabled: boolean().notNull(),
  problem: varchar({ length: 1000 }),
  toldAt: moment(),
});

/** One notice on its way to one listener. */
export const telling = mysqlTable(
  'telling',
  { listenerKey: key().notNull(), noticeId: id().notNull(), state: varchar({ length: 10 }).$type<import('./states').TellingState>().notNull(), attempts: int().notNull(), dueAt: moment().notNull(), toldAt: moment(), failure: varchar({ length: 1000 }) },
  (table) => [primaryKey({ columns: [table.listenerKey, table.noticeId] })],
);

/** What waits at a place, worked through on purpose. */
export const batch = mysqlTable('batch', {
  id: id().primaryKey(),
  name: varchar({ length: 200 }).notNull(),
  pipelineKey: key().notNull(),
  place: varchar({ length: 30 }).notNull(),
  /** The source whose settings and secret are used; null: its own settings. */
  sourceKey: key(),
  settings: json().notNull(),
  state: varchar({ length: 10 }).$type<import('./states').BatchState>().notNull(),
  /** So many of its items, from the first, may be taken. */
  released: int().notNull(),
  problem: varchar({ length: 1000 }),
  begunAt: moment().notNull(),
  begunBy: varchar({ length: 100 }).notNull(),
  worker: id(),
  leaseUntil: moment(),
});

export const batchItem = mysqlTable(
  'batch_item',
  { batchId: id().notNull(), number: int().notNull(), ref: varchar({ length: 1000 }).notNull(), name: varchar({ length: 255 }).notNull(), size: bigint({ mode: 'number' }), state: varchar({ length: 10 }).$type<import('./states').BatchItemState>().notNull(), eventId: id(), problem: varchar({ length: 1000 }) },
  (table) => [primaryKey({ columns: [table.batchId, table.number] })],
);

/** How long things are kept, days; null: for good. One row. */
export const keeping = mysqlTable('keeping', { id: int().primaryKey(), papersDays: int(), factsDays: int(), changedAt: moment().notNull(), changedBy: varchar({ length: 100 }).notNull() });
