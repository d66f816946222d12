import type { Client } from '@modelcontextprotocol/sdk/client/index.js';
import Joi from 'joi';
import { StepFailure } from '@/core/resilience/failure';
import type { Connector } from '../connection';
import { CALL_MS } from '../http/exchange';

export interface McpSettings {
  readonly url: string;
}

/** A tool that the server offers, as it describes itself. */
export interface OfferedTool {
  readonly name: string;
  readonly about: string;
  /** Names of what it wants; needed ones first. */
  readonly inputs: readonly string[];
  /** Those without which it is refused. */
  readonly needed: readonly string[];
  /** The same call twice is done once (`idempotentHint` of the tool's annotations). */
  readonly repeatable: boolean;
}

/** Most tools that are listed; a server with more pages on. */
const MOST_TOOLS = 200;

/** Loaded when it is first needed: workers that use no tools have no need of it in memory. */
async function library() {
  const [client, http, types] = await Promise.all([import('@modelcontextprotocol/sdk/client/index.js'), import('@modelcontextprotocol/sdk/client/streamableHttp.js'), import('@modelcontextprotocol/sdk/types.js')]);
  return { Client: client.Client, StreamableHTTPClientTransport: http.StreamableHTTPClientTransport, StreamableHTTPError: http.StreamableHTTPError, ErrorCode: types.ErrorCode, McpError: types.McpError };
}

/** A server of tools (Model Context Protocol, Streamable HTTP transport), asked with a bearer token where there is one. */
async function connected<T>({ url }: McpSettings, secret: string | null, work: (client: Client) => Promise<T>, about?: string): Promise<T> {
  const { Client: McpClient, StreamableHTTPClientTransport } = await library();
  const client = new McpClient({ name: 'leadline', version: '1' });
  const transport = new StreamableHTTPClientTransport(new URL(url), { requestInit: { ...(secret ? { headers: { authorization: `Bearer ${secret}` } } : {}), redirect: 'error' } });
  // Nothing may be sent before the hands are shaken: until then every failure leaves the other side untouched.
  let shaken = false;
  try {
    await client.connect(transport as Parameters<Client['connect']>[0], { timeout: CALL_MS });
    shaken = true;
    return await work(client);
  } catch (error) {
    throw error instanceof StepFailure ? error : await failureFrom(error, url, shaken, about);
  } finally {
    await client.close().catch(() => undefined);
  }
}

async function failureFrom(error: unknown, url: string, shaken: boolean, about: string | undefined): Promise<StepFailure> {
  const { StreamableHTTPError, ErrorCode, McpError } = await library();
  const { message } = error as Error;
  const more = { cause: error, ...(shaken ? {} : { untouched: true as const }), ...(about === undefined ? {} : { about }) };
  if (error instanceof StreamableHTTPError && (error.code === 401 || error.code === 403)) return new StepFailure('no-credential', `${url} answered ${error.code}`, { ...more, untouched: true });
  if (error instanceof StreamableHTTPError && error.code === 429) return new StepFailure('service-busy', `${url} answered 429`, { ...more, untouched: true });
  // The server understood and said no (JSON-RPC: invalid params, no such method).
  if (error instanceof McpError && ![Number(ErrorCode.RequestTimeout), Number(ErrorCode.ConnectionClosed)].includes(error.code)) return new StepFailure('service-refused', message.slice(0, 300), { ...more, untouched: true });
  return new StepFailure('service-down', `${url} (${message.slice(0, 200)})`, more);
}

export const toolsOf = (settings: McpSettings, secret: string | null): Promise<OfferedTool[]> => connected(settings, secret, listTools);

async function listTools(client: Client): Promise<OfferedTool[]> {
  const found: OfferedTool[] = [];
  for (let cursor: string | undefined; found.length < MOST_TOOLS; ) {
    const { tools, nextCursor } = await client.listTools(cursor === undefined ? {} : { cursor }, { timeout: CALL_MS });
    for (const { name, description, inputSchema, annotations } of tools) {
      const needed = inputSchema.required ?? [];
      const others = Object.keys(inputSchema.properties ?? {}).filter((input) => !needed.includes(input));
      found.push({ name, about: (description ?? '').slice(0, 300), inputs: [...needed, ...others].slice(0, 60), needed: needed.slice(0, 60), repeatable: annotations?.idempotentHint === true || annotations?.readOnlyHint === true });
    }
    if (nextCursor === undefined) return found;
    cursor = nextCursor;
  }
  return found.slice(0, MOST_TOOLS);
}

/** Use a tool. The key of the delivery goes along as metadata; a tool that knows it can do it once. Returns what the tool made of it. */
export function callTool(settings: McpSettings, secret: string | null, call: { readonly tool: string; readonly input: Readonly<Record<string, unknown>>; readonly key: string }, about?: string): Promise<unknown> {
  return connected(settings, secret, async (client) => {
    const answer = await client.callTool({ name: call.tool, arguments: { ...call.input }, _meta: { 'leadline/idempotency-key': call.key } }, undefined, { timeout: CALL_MS });
    const text = textOf(answer.content);
    if (answer.isError) throw new StepFailure('service-refused', `the tool “${call.tool}” says: ${text.slice(0, 300) || 'no'}`, { untouched: true });
    return answer.structuredContent ?? dataIn(text);
  }, about);
}

const textOf = (content: unknown): string => (Array.isArray(content) ? content.flatMap((part: { type?: string; text?: string }) => (part.type === 'text' ? [part.text ?? ''] : [])).join('\n') : '');

function dataIn(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return text === '' ? null : { text };
  }
}

export const mcpConnector: Connector<McpSettings> = {
  key: 'mcp',
  name: 'Tools (Model Context Protocol)',
  secretName: 'Token',
  schema: Joi.object({ url: Joi.string().uri({ scheme: ['http', 'https'] }).max(500).required().label('Address') }),
  async tryOut(settings, secret) {
    const tools = await toolsOf(settings, secret);
    return { found: `${settings.url} offers ${tools.length} ${tools.length === 1 ? 'tool' : 'tools'}: ${tools.slice(0, 6).map(({ name }) => name).join(', ')}${tools.length > 6 ? ', …' : ''}.`, offers: { tools } };
  },
};
