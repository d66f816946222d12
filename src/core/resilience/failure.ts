/**
 * Every way in which a step can fail, in one closed table.
 * transient: try again; refused: the other side said no; person: somebody has to supply something; defect: our fault.
 */
export const FAILURES = {
  'file-locked': { class: 'transient', text: 'The workbook is open in another program' },
  'lock-timeout': { class: 'transient', text: 'Another worker held the workbook for too long' },
  'no-space': { class: 'transient', text: 'The disk is full' },
  'connection-lost': { class: 'transient', text: 'The connection was lost' },
  'deadline': { class: 'transient', text: 'The step took longer than it may' },
  'no-such-kind': { class: 'refused', text: 'The document kind is not published' },
  'no-such-list': { class: 'refused', text: 'The list does not exist' },
  'no-such-column': { class: 'refused', text: 'The target has no such column' },
  'damaged-workbook': { class: 'refused', text: 'The workbook file cannot be read' },
  'defect': { class: 'defect', text: 'The program made a mistake here' },
} as const satisfies Record<string, { class: FailureClass; text: string }>;

export type FailureClass = 'transient' | 'refused' | 'person' | 'defect';
export type FailureCode = keyof typeof FAILURES;

/** A failure as recorded: what, which, why, what now. */
export interface Failure {
  readonly code: FailureCode;
  /** A whole sentence for people. */
  readonly message: string;
  /** Earliest moment of the next attempt that the other side asked for, in ms from now. */
  readonly retryAfterMs?: number;
}

/** The one way to refuse a step. Anything else that is thrown is a defect. */
export class StepFailure extends Error {
  readonly failure: Failure;
  constructor(code: FailureCode, detail: string, options: { cause?: unknown; retryAfterMs?: number } = {}) {
    super(`${FAILURES[code].text}: ${detail}`, { cause: options.cause });
    this.name = 'StepFailure';
    this.failure = { code, message: this.message, ...(options.retryAfterMs === undefined ? {} : { retryAfterMs: options.retryAfterMs }) };
  }
}

export const classOf = (failure: Failure): FailureClass => FAILURES[failure.code].class;
export const isRetryable = (failure: Failure): boolean => classOf(failure) === 'transient';

/** Whatever was thrown as a failure; unknown errors are our defect and keep their message. */
export function failureOf(error: unknown): Failure {
  if (error instanceof StepFailure) return error.failure;
  const message = error instanceof Error ? error.message : String(error);
  return { code: 'defect', message: `${FAILURES.defect.text}: ${message.slice(0, 500)}` };
}
