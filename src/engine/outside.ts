import type { HttpRequest } from '@/core/pipeline/definition';
import type { Given, Option } from '@/core/pipeline/facts';
import type { RowsOf } from '@/core/pipeline/match';
import type { Scope } from '@/core/pipeline/values';
import type { Proof } from './step';

/** What a look into a list gives: the row, or rows that are nearly it. */
export type Found = { readonly row: Given } | { readonly row: null; readonly near: readonly Option[] };

/** Rows for a table of a database. */
export interface TableRows {
  readonly connection: string;
  readonly table: string;
  readonly keyColumn: string;
  /** Key of the delivery. */
  readonly key: string;
  readonly rows: readonly Given[];
}

export interface ToolCall {
  readonly connection: string;
  readonly tool: string;
  readonly input: Given;
  /** Name → place in the answer. */
  readonly take: Readonly<Record<string, string>>;
  /** Key of the delivery. */
  readonly key: string;
}

export interface Message {
  readonly connection: string;
  readonly to: string;
  readonly subject: string;
  readonly text: string;
  /** The same for the same delivery, so that the receiver can tell a repeat (RFC 5322, Message-ID). */
  readonly id: string;
  readonly attachment: { readonly name: string; readonly sha256: string } | null;
}

/** Under this name a step remembers a secret that a person gave for this time only: the connection's key, a blank, and the sealed secret in Base64. */
export const ONCE = 'once';

/** Everything outside that steps reach; each call is guarded by the breaker and the limits of its connection. */
export interface Outside {
  /** The same, with a secret that was given for one time; see {@link ONCE}. */
  readonly once: (given: string) => Outside;
  readonly find: (list: string, column: string | null, value: string | null) => Promise<Found>;
  readonly rows: RowsOf;
  /** Ask or write over HTTP; what the request takes of the answer. `key`: goes along as Idempotency-Key. */
  readonly http: (request: HttpRequest, scope: Scope, original: { readonly sha256: string; readonly name: string }, key: string | null) => Promise<Given>;
  /** Is it there? Null on 404. */
  readonly httpThere: (request: HttpRequest, path: string) => Promise<Given | null>;
  /** Whether the application behind a connection keeps the keys of requests. */
  readonly keepsKeys: (connection: string) => Promise<boolean>;
  readonly insertRows: (rows: TableRows) => Promise<Proof>;
  readonly rowsThere: (rows: TableRows) => Promise<Proof | null>;
  /** Whether a tool says that the same call twice does no harm. */
  readonly isRepeatable: (connection: string, tool: string) => Promise<boolean>;
  readonly useTool: (call: ToolCall) => Promise<Given>;
  readonly mail: (message: Message) => Promise<void>;
  readonly original: (sha256: string) => Promise<Buffer>;
  readonly searchable: (documentId: string) => Promise<Buffer>;
  /** The newest version of a published pipeline; null when there is none. */
  readonly publishedVersion: (pipeline: string) => Promise<number | null>;
}
