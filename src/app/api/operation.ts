import type Joi from 'joi';
import type { Services } from '@/services/context';
import type { Actor } from '@/store/queries/audit';

/** What a request brings, already checked against the operation's schemas. */
export interface Asked<Params = unknown, Query = unknown, Body = unknown> {
  readonly services: Services;
  readonly actor: Actor;
  readonly params: Params;
  readonly query: Query;
  readonly body: Body;
  readonly request: Request;
}

/** One operation of the HTTP interface. The same schemas check requests and make the OpenAPI document. */
export interface Operation<Params = never, Query = never, Body = never> {
  readonly method: 'GET' | 'POST' | 'PUT' | 'DELETE';
  /** With parameters in braces: `/runs/{id}`. */
  readonly path: string;
  readonly summary: string;
  readonly params?: Joi.ObjectSchema<Params>;
  readonly query?: Joi.ObjectSchema<Query>;
  /** JSON body; absent: the handler reads the body itself, if any. */
  readonly body?: Joi.ObjectSchema<Body>;
  /** Media types of a body the handler reads itself. */
  readonly bodyTypes?: readonly string[];
  readonly headers?: Readonly<Record<string, string>>;
  /** Status → what it means, besides the problems every operation can answer with. */
  readonly answers: Readonly<Record<number, string>>;
  readonly handle: (asked: Asked<Params, Query, Body>) => Promise<Response>;
}

export const operation = <Params = unknown, Query = unknown, Body = unknown>(definition: Operation<Params, Query, Body>): Operation => definition as unknown as Operation;

/** A handler that changes something and has nothing to say about it. */
export const silently =
  <Params, Query, Body>(act: (asked: Asked<Params, Query, Body>) => Promise<unknown>) =>
  async (asked: Asked<Params, Query, Body>): Promise<Response> => {
    await act(asked);
    return new Response(null, { status: 204 });
  };

export const json = (value: unknown, status = 200, headers: Record<string, string> = {}): Response => Response.json(value, { status, headers: { 'cache-control': 'no-store', ...headers } });

export const file = (bytes: Buffer, mediaType: string, headers: Record<string, string> = {}): Response => new Response(new Uint8Array(bytes), { headers: { 'content-type': mediaType, 'x-content-type-options': 'nosniff', ...headers } });

/** RFC 6266 and RFC 8187: the plain name for old readers, the full one for all others. */
export const asAttachment = (name: string, how: 'attachment' | 'inline' = 'attachment'): string => `${how}; filename="${name.replace(/[^\x20-\x7e]|["\\]/g, '_')}"; filename*=UTF-8''${encodeURIComponent(name).replace(/['()*]/g, (mark) => `%${mark.charCodeAt(0).toString(16).toUpperCase()}`)}`;

/** A picture of a page; its bytes never change, so browsers keep it. A drawing of a text runs no scripts. */
export const picture = ({ bytes, mediaType }: { readonly bytes: Buffer; readonly mediaType: string }): Response => file(bytes, mediaType, { 'cache-control': 'private, max-age=86400, immutable', 'content-security-policy': "default-src 'none'; style-src 'unsafe-inline'" });
