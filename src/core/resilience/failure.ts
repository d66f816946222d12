/**
 * Every way in which a step can fail, in one closed table.
 * transient: try again; held: nothing was tried, so come again and count no attempt; refused: the other side said no; person: somebody
 * has to supply something; defect: our fault.
 */
export const FAILURES = {
  'file-locked': { class: 'transient', text: 'The workbook is open in another program' },
  'lock-timeout': { class: 'transient', text: 'Another worker held the workbook for too long' },
  'no-space': { class: 'transient', text: 'The disk is full' },
  'connection-lost': { class: 'transient', text: 'The connection was lost' },
  'deadline': { class: 'transient', text: 'The step took longer than it may' },
  'service-busy': { class: 'transient', text: 'The service is busy' },
  'service-down': { class: 'transient', text: 'The service does not answer as it should' },
  'service-resting': { class: 'transient', text: 'The service is left alone for a while' },
  'connection-full': { class: 'held', text: 'The connection is asked as often as it may be' },
  'connection-paused': { class: 'held', text: 'The connection is paused' },
  'service-slow': { class: 'held', text: 'The service is not done yet' },
  'service-refused': { class: 'refused', text: 'The service refused' },
  'no-credential': { class: 'person', text: 'The service does not know our key' },
  'no-such-connection': { class: 'person', text: 'The connection is not there' },
  'no-such-kind': { class: 'refused', text: 'The document kind is not published' },
  'no-such-list': { class: 'refused', text: 'The list does not exist' },
  'mail-refused': { class: 'refused', text: 'The mail server refused the mail' },
  'value-failed': { class: 'refused', text: 'A value could not be computed' },
  'not-in-list': { class: 'refused', text: 'The value is not in the list' },
  'no-such-pipeline': { class: 'refused', text: 'The pipeline is not published' },
  'too-deep': { class: 'refused', text: 'Pipelines start each other without end' },
  'name-taken': { class: 'refused', text: 'Another file has this name' },
  'no-such-column': { class: 'person', text: 'The target has no such column' },
  'content-unreadable': { class: 'refused', text: 'The content that was fetched cannot be read' },
  'damaged-workbook': { class: 'refused', text: 'The workbook file cannot be read' },
  'defect': { class: 'defect', text: 'The program made a mistake here' },
} as const satisfies Record<string, { class: FailureClass; text: string }>;

export type FailureClass = 'transient' | 'held' | 'refused' | 'person' | 'defect';
export type FailureCode = keyof typeof FAILURES;

/** A failure as recorded: what, which, why, what now. */
export interface Failure {
  readonly code: FailureCode;
  /** A whole sentence for people. */
  readonly message: string;
  /** Earliest moment of the next attempt that the other side asked for, in ms from now. */
  readonly retryAfterMs?: number;
  /** Whatever was to be written has surely not been: the other side did not take it. */
  readonly untouched?: boolean;
  /** What a person can supply so that it goes on: `connection:KEY`. */
  readonly about?: string;
  /** Columns that the target has not; a person may let this one go without them. */
  readonly columns?: readonly string[];
}

/** The one way to refuse a step. Anything else that is thrown is a defect. */
export class StepFailure extends Error {
  readonly failure: Failure;

  /** The same, without the certainty that nothing was written. */
  touched(): StepFailure {
    const same = new StepFailure(this.failure.code, '', { cause: this.cause });
    return Object.assign(same, { message: this.message, failure: { ...this.failure, untouched: false } });
  }

  constructor(code: FailureCode, detail: string, { cause, ...more }: { cause?: unknown } & Pick<Failure, 'retryAfterMs' | 'untouched' | 'about' | 'columns'> = {}) {
    super(`${FAILURES[code].text}: ${detail}`, { cause });
    this.name = 'StepFailure';
    this.failure = { code, message: this.message, ...more };
  }
}

/** A target that has not the columns it should get. Whoever waits for the same ones goes on together when they are there. */
export function columnsMissing(target: string, name: string, columns: readonly string[], advice: string): StepFailure {
  const about = `column:${encodeURIComponent(`${target}/${columns.join('/')}`)}`.slice(0, MOST_ABOUT);
  return new StepFailure('no-such-column', `${name} has no column ${columns.map((column) => `“${column}”`).join(', ')}. ${advice}`, { untouched: true, about, columns });
}

/** Letters of what a task is about that are kept. */
const MOST_ABOUT = 200;

export const classOf = (failure: Failure): FailureClass => FAILURES[failure.code].class;
export const isRetryable = (failure: Failure): boolean => classOf(failure) === 'transient';

/** Ends when somebody closes a file or makes room, which may take days; nothing is wrong with the run meanwhile. */
export const wantsPatience = (failure: Failure): boolean => failure.code === 'file-locked' || failure.code === 'no-space';

/** Whatever was thrown as a failure; unknown errors are our defect and keep their message. */
export function failureOf(error: unknown): Failure {
  if (error instanceof StepFailure) return error.failure;
  const message = error instanceof Error ? error.message : String(error);
  return { code: 'defect', message: `${FAILURES.defect.text}: ${message.slice(0, 500)}` };
}
