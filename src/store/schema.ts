import { bigint, boolean, char, double, int, longtext, mysqlTable, primaryKey, varchar } from 'drizzle-orm/mysql-core';
import { bytes, id, json, key, moment, spot } from './columns';

export * from './schema-outward';

/** The tables as the program sees them. `migrations/` makes them; a test holds the two against each other. */

export const source = mysqlTable('source', {
  key: key().primaryKey(),
  name: varchar({ length: 200 }).notNull(),
  connector: varchar({ length: 30 }).notNull(),
  settings: json().notNull(),
  /** Sealed with the key file of the data folder; never shown again. */
  secret: bytes(),
  pipelineKey: key().notNull(),
  enabled: boolean().notNull(),
  cursor: json(),
  /** The worker that watches it now. */
  worker: id(),
  leaseUntil: moment(),
  checkedAt: moment(),
  problem: varchar({ length: 1000 }),
});

export const event = mysqlTable('event', {
  id: id().primaryKey(),
  sourceKey: key().notNull(),
  /** The same happening has the same key, however often it is noticed. */
  dedupeKey: varchar({ length: 200 }).notNull(),
  /** CloudEvents type, for example `leadline.mail.arrived`. */
  type: varchar({ length: 100 }).notNull(),
  sender: varchar({ length: 320 }),
  subject: varchar({ length: 500 }),
  occurredAt: moment(),
  receivedAt: moment().notNull(),
  data: json().notNull(),
});

export const document = mysqlTable('document', {
  id: id().primaryKey(),
  eventId: id().notNull(),
  /** Which file of the event, from 0. */
  part: int().notNull(),
  sha256: char({ length: 64 }).notNull(),
  fileName: varchar({ length: 255 }).notNull(),
  mediaType: varchar({ length: 100 }).notNull(),
  size: int().notNull(),
  pageCount: int(),
  sourceKey: key().notNull(),
  pipelineKey: key().notNull(),
  sender: varchar({ length: 320 }),
  subject: varchar({ length: 500 }),
  receivedAt: moment().notNull(),
  kindKey: key(),
  problemCode: varchar({ length: 40 }),
  problemText: varchar({ length: 1000 }),
  /** The first document with the same bytes, when this is a repeat. */
  repeatOf: id(),
  /** Where its content is fetched when a step needs it; null: it is here. */
  awaits: json(),
  /** The newest run. */
  runId: id(),
  /** Its pages and its original were deleted, by rule or on purpose. */
  papersGoneAt: moment(),
});

export const pageText = mysqlTable(
  'page_text',
  { sha256: char({ length: 64 }).notNull(), number: int().notNull(), width: double().notNull(), height: double().notNull(), words: json().notNull(), origin: varchar({ length: 12 }), why: varchar({ length: 500 }) },
  (table) => [primaryKey({ columns: [table.sha256, table.number] })],
);

/** Published versions of kinds and pipelines; never changed, only added to. */
export const definition = mysqlTable(
  'definition',
  {
    type: varchar({ length: 10 }).$type<'kind' | 'pipeline'>().notNull(),
    key: key().notNull(),
    version: int().notNull(),
    name: varchar({ length: 200 }).notNull(),
    yaml: longtext().notNull(),
    definition: json().notNull(),
    note: varchar({ length: 1000 }).notNull(),
    publishedAt: moment().notNull(),
    publishedBy: varchar({ length: 100 }).notNull(),
  },
  (table) => [primaryKey({ columns: [table.type, table.key, table.version] })],
);

/** What the builder is at work on; published, it becomes a version. */
export const pipelineDraft = mysqlTable('pipeline_draft', {
  pipelineKey: key().primaryKey(),
  yaml: longtext().notNull(),
  /** Raised at every change, so that two builders cannot overwrite each other. */
  revision: int().notNull(),
  updatedAt: moment().notNull(),
  updatedBy: varchar({ length: 100 }).notNull(),
});

export const pipelineSwitch = mysqlTable('pipeline_switch', {
  pipelineKey: key().primaryKey(),
  /** Higher goes first; 0 is usual. */
  priority: int().notNull(),
  /** Null: it is on. */
  pausedAt: moment(),
  pausedBy: varchar({ length: 100 }),
});

export const kindDraft = mysqlTable('kind_draft', {
  kindKey: key().primaryKey(),
  definition: json().notNull(),
  /** Raised at every change, so that two builders cannot overwrite each other. */
  revision: int().notNull(),
  updatedAt: moment().notNull(),
  updatedBy: varchar({ length: 100 }).notNull(),
});

/** Documents with confirmed values, by which a kind is taught and measured. */
export const sample = mysqlTable('sample', {
  id: id().primaryKey(),
  kindKey: key().notNull(),
  sha256: char({ length: 64 }).notNull(),
  fileName: varchar({ length: 255 }).notNull(),
  mediaType: varchar({ length: 100 }).notNull(),
  pageCount: int(),
  problem: varchar({ length: 1000 }),
  state: varchar({ length: 10 }).$type<import('./states').SampleState>().notNull(),
  /** Not used for teaching, only for measuring. */
  heldBack: boolean().notNull(),
  truth: json().notNull(),
  revision: int().notNull(),
  /** The live document it was taken from. */
  documentId: id(),
  addedAt: moment().notNull(),
  addedBy: varchar({ length: 100 }).notNull(),
});

/** Measured tests of a kind on its confirmed samples. */
export const sounding = mysqlTable('sounding', {
  id: id().primaryKey(),
  kindKey: key().notNull(),
  definition: json().notNull(),
  /** Of a published version; null for a draft. */
  version: int(),
  state: varchar({ length: 10 }).$type<import('./states').SoundingState>().notNull(),
  target: json().notNull(),
  samplesDone: int().notNull(),
  samplesAll: int().notNull(),
  result: json(),
  failure: varchar({ length: 1000 }),
  worker: id(),
  leaseUntil: moment(),
  askedAt: moment().notNull(),
  askedBy: varchar({ length: 100 }).notNull(),
  finishedAt: moment(),
});

export const run = mysqlTable('run', {
  id: id().primaryKey(),
  documentId: id().notNull(),
  pipelineKey: key().notNull(),
  pipelineVersion: int().notNull(),
  state: varchar({ length: 10 }).$type<import('./states').RunState>().notNull(),
  dueAt: moment().notNull(),
  /** Raised at every claim; a record made under an older number matches nothing. */
  claimNo: int().notNull(),
  worker: id(),
  leaseUntil: moment(),
  /** Id of the step reached. */
  atStep: spot(),
  failure: json(),
  stopped: varchar({ length: 400 }),
  createdAt: moment().notNull(),
  updatedAt: moment().notNull(),
  finishedAt: moment(),
  /** How many pipelines started each other to come here. */
  depth: int().notNull().default(0),
  /** What its steps made was deleted by rule; its deliveries stay. */
  factsGoneAt: moment(),
});

/** The newest fact about each step of a run. */
export const fact = mysqlTable(
  'fact',
  {
    runId: id().notNull(),
    stepId: spot().notNull(),
    state: varchar({ length: 10 }).$type<'done' | 'waiting' | 'paused' | 'failed'>().notNull(),
    result: json(),
    failure: json(),
    taskId: id(),
    attempts: int().notNull(),
    /** Pauses and working time of the failed attempts, ms. */
    spentMs: int().notNull(),
    /** Working time of the last attempt, ms. */
    tookMs: double().notNull(),
    recordedAt: moment().notNull(),
  },
  (table) => [primaryKey({ columns: [table.runId, table.stepId] })],
);

/** Attempts that failed; the one that succeeded is the fact. */
export const attempt = mysqlTable('attempt', {
  id: bigint({ mode: 'number' }).autoincrement().primaryKey(),
  runId: id().notNull(),
  stepId: spot().notNull(),
  number: int().notNull(),
  failure: json().notNull(),
  tookMs: double().notNull(),
  nextAt: moment(),
  recordedAt: moment().notNull(),
});

export const task = mysqlTable('task', {
  id: id().primaryKey(),
  runId: id().notNull(),
  stepId: spot().notNull(),
  documentId: id().notNull(),
  title: varchar({ length: 200 }).notNull(),
  state: varchar({ length: 10 }).$type<import('./states').TaskState>().notNull(),
  /** How many values need eyes. */
  doubts: int().notNull(),
  reason: varchar({ length: 1000 }).notNull(),
  /** Readings as the clerk has them now; null until something was changed. */
  draft: json(),
  /** What is asked, where it is not a review. */
  question: json(),
  /** What is missing (`connection:KEY`), where one answer helps every task that waits for it. */
  about: varchar({ length: 200 }),
  /** Raised at every change, so that two people cannot overwrite each other. */
  revision: int().notNull(),
  openedAt: moment().notNull(),
  updatedAt: moment().notNull(),
  closedBy: varchar({ length: 100 }),
  note: varchar({ length: 1000 }),
});

export const delivery = mysqlTable('delivery', {
  /** run + step: the idempotency key that goes along with the write. */
  key: varchar({ length: 140 }).primaryKey(),
  runId: id().notNull(),
  stepId: spot().notNull(),
  target: varchar({ length: 300 }).notNull(),
  state: varchar({ length: 10 }).$type<import('./states').DeliveryState>().notNull(),
  rows: int().notNull(),
  proof: json(),
  plannedAt: moment().notNull(),
  confirmedAt: moment(),
});

export const list = mysqlTable('list', {
  key: key().primaryKey(),
  name: varchar({ length: 200 }).notNull(),
  columns: json().notNull(),
  description: varchar({ length: 1000 }).notNull(),
  /** Of reference data: the column that tells the rows apart. Null: results that pipelines write. */
  keyColumn: varchar({ length: 200 }),
  /** Where reference data comes from: a file or a query. */
  origin: json(),
  syncedAt: moment(),
  problem: varchar({ length: 1000 }),
  /** Raised whenever reference rows are replaced. */
  revision: int().notNull().default(0),
});

export const referenceRow = mysqlTable('reference_row', { listKey: key().notNull(), number: int().notNull(), cells: json().notNull() }, (table) => [primaryKey({ columns: [table.listKey, table.number] })]);

/** Services and databases that are asked. */
export const connection = mysqlTable('connection', {
  key: key().primaryKey(),
  name: varchar({ length: 200 }).notNull(),
  connector: varchar({ length: 30 }).notNull(),
  settings: json().notNull(),
  /** Sealed with the key file of the data folder; never shown again. */
  secret: bytes(),
  /** What it said it can do when it was last tried. */
  offers: json(),
  /** Null: closed, and nothing has failed. */
  breaker: json(),
  /** Calls under way and the allowance that is left; null: none was made yet. */
  flow: json(),
  checkedAt: moment(),
  problem: varchar({ length: 1000 }),
  /** A person lets it rest; what needs it waits. */
  pausedAt: moment(),
  pausedBy: varchar({ length: 100 }),
});

/** One document asked of one tier of a service: submitted once, paid once. */
export const serviceJob = mysqlTable(
  'service_job',
  {
    connectionKey: key().notNull(),
    tier: varchar({ length: 60 }).notNull(),
    sha256: char({ length: 64 }).notNull(),
    state: varchar({ length: 10 }).$type<'asked' | 'answered' | 'no answer'>().notNull(),
    /** The service's own number of the job. */
    job: varchar({ length: 200 }),
    answer: json(),
    tookMs: double(),
    askedAt: moment().notNull(),
    answeredAt: moment(),
  },
  (table) => [primaryKey({ columns: [table.connectionKey, table.tier, table.sha256] })],
);

/** Values by which a document is found to have come before. */
export const documentValue = mysqlTable('document_value', { kindKey: key().notNull(), field: key().notNull(), value: varchar({ length: 200 }).notNull(), documentId: id().notNull() }, (table) => [primaryKey({ columns: [table.documentId, table.field] })]);

/** Parts of the print by which nearly the same texts are found, see `checking/resemblance`. */
export const documentPrint = mysqlTable('document_print', { kindKey: key().notNull(), part: varchar({ length: 12 }).notNull(), documentId: id().notNull() }, (table) => [primaryKey({ columns: [table.documentId, table.part] })]);

/** "Always this account for this haulier?" and what was answered. */
export const remembered = mysqlTable('remembered', {
  id: id().primaryKey(),
  kindKey: key().notNull(),
  field: key().notNull(),
  whenField: key().notNull(),
  whenValue: varchar({ length: 200 }).notNull(),
  value: varchar({ length: 2000 }).notNull(),
  state: varchar({ length: 10 }).$type<'always' | 'once'>().notNull(),
  answeredAt: moment().notNull(),
  answeredBy: varchar({ length: 100 }).notNull(),
});

export const listRow = mysqlTable('list_row', {
  id: bigint({ mode: 'number' }).autoincrement().primaryKey(),
  listKey: key().notNull(),
  deliveryKey: varchar({ length: 140 }).notNull(),
  /** Which row of the delivery, from 0. */
  line: int().notNull(),
  cells: json().notNull(),
  places: json().notNull(),
  documentId: id().notNull(),
  runId: id().notNull(),
  writtenAt: moment().notNull(),
});

export const audit = mysqlTable('audit', {
  id: bigint({ mode: 'number' }).autoincrement().primaryKey(),
  at: moment().notNull(),
  actor: varchar({ length: 100 }).notNull(),
  act: varchar({ length: 60 }).notNull(),
  objectType: varchar({ length: 30 }).notNull(),
  objectId: varchar({ length: 100 }).notNull(),
  detail: json().notNull(),
});

export const worker = mysqlTable('worker', { id: id().primaryKey(), host: varchar({ length: 200 }).notNull(), pid: int().notNull(), startedAt: moment().notNull(), seenAt: moment().notNull() });
