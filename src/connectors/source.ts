import type Joi from 'joi';

/** One file that came with an event. */
export interface ArrivedFile {
  readonly name: string;
  readonly mediaType: string;
  readonly bytes: Buffer;
  /** The content has not come yet; the bytes are what the event says of it. */
  readonly awaits?: readonly Reference[];
}

/** Where content can be fetched. */
export interface Reference {
  /** A path below the connection, or a whole address where there is none. */
  readonly at: string;
  readonly connection: string | null;
  readonly name: string | null;
}

/** What becomes of several files that come together: each is a document, only the first is one, or all of them are one. */
export const SEVERAL = ['each', 'first', 'all'] as const;
export type Several = (typeof SEVERAL)[number];

/** Something that happened at a source. */
export interface Arrival {
  /** The same happening gives the same key, however often it is noticed. At most 200 characters. */
  readonly dedupeKey: string;
  /** CloudEvents type. */
  readonly type: string;
  readonly sender: string | null;
  readonly subject: string | null;
  /** ISO 8601. */
  readonly occurredAt: string | null;
  readonly files: readonly ArrivedFile[];
  /** Why there is nothing to read, in a plain sentence; then `files` holds the original as it came. */
  readonly problem: { readonly code: string; readonly text: string } | null;
  readonly data: Readonly<Record<string, unknown>>;
  /** What the run is given along: steps find it as `came.NAME`. */
  readonly given?: Readonly<Record<string, string | null>>;
}

export interface Watch<Settings> {
  readonly settings: Settings;
  readonly secret: string | null;
  /** What {@link Watch.saveCursor} kept last, or null at the first start. */
  readonly cursor: unknown;
  /** Hand over an arrival. Resolves when it is recorded for good; only then may the source mark the original as taken. */
  emit(arrival: Arrival): Promise<void>;
  saveCursor(cursor: unknown): Promise<void>;
  /** All is well (null), or what is the matter now; shown beside the source. */
  report(problem: string | null): Promise<void>;
  readonly signal: AbortSignal;
}

/** A place where documents arrive. */
export interface SourceConnector<Settings> {
  readonly key: string;
  readonly name: string;
  /** Validates the settings and drives their form. */
  readonly schema: Joi.ObjectSchema<Settings>;
  /** What the secret is called, or null where none is needed. */
  readonly secretName: string | null;
  /** Emit everything since the cursor, then whatever comes, until the signal fires. Rejects only when watching cannot go on. */
  watch(watch: Watch<Settings>): Promise<void>;
  /** Look whether the settings work; the answer is a sentence for people. Throws one when they do not. */
  tryOut(settings: Settings, secret: string | null): Promise<string>;
}
