/**
 * The states of a run and the moves between them. One table; code, SQL and docs follow it.
 *
 *   queued ──claim──▶ working ──▶ finished
 *     ▲                 │ ├─────▶ waiting ──answer──▶ queued
 *     │                 │ └─────▶ stranded ──refloat─▶ queued
 *     └──retry, lease───┘          └────give up──▶ given up
 */
export const RUN_MOVES = {
  queued: ['working'],
  working: ['working', 'queued', 'waiting', 'stranded', 'finished'],
  waiting: ['queued', 'stranded'],
  stranded: ['queued', 'given up'],
  finished: [],
  'given up': [],
} as const satisfies Record<string, readonly string[]>;

export type RunState = keyof typeof RUN_MOVES;
/** The states that a run in state F may be moved to. */
export type MoveFrom<F extends RunState> = (typeof RUN_MOVES)[F][number];
export const RUN_STATES = Object.keys(RUN_MOVES) as RunState[];

export const TASK_STATES = ['open', 'set aside', 'done', 'refused'] as const;
export type TaskState = (typeof TASK_STATES)[number];

/** planned: recorded before anything is sent; sent: on its way; confirmed: proof is kept; uncertain: a person decides. */
export const DELIVERY_STATES = ['planned', 'sent', 'confirmed', 'uncertain', 'undone'] as const;
export type DeliveryState = (typeof DELIVERY_STATES)[number];

/** new: not looked at yet; proposed: values corrected at the desk, waiting for the builder; confirmed: its values are true. */
export const SAMPLE_STATES = ['new', 'proposed', 'confirmed'] as const;
export type SampleState = (typeof SAMPLE_STATES)[number];

export const SOUNDING_STATES = ['queued', 'working', 'done', 'failed'] as const;
export type SoundingState = (typeof SOUNDING_STATES)[number];

/** due: to be told, now or again later; told: the other side has it; given up: tried for days, or it did not want it. */
export const TELLING_STATES = ['due', 'told', 'given up'] as const;
export type TellingState = (typeof TELLING_STATES)[number];

/** under way: its released items are taken and worked on; paused: by a person, or because the released ones are through; ended: the rest stays where it is. */
export const BATCH_STATES = ['under way', 'paused', 'done', 'ended'] as const;
export type BatchState = (typeof BATCH_STATES)[number];

export const BATCH_ITEM_STATES = ['waiting', 'taken', 'failed'] as const;
export type BatchItemState = (typeof BATCH_ITEM_STATES)[number];
