import { McpServer } from '@modelcontextprotocol/sdk/server/mcp.js';
import { StreamableHTTPServerTransport } from '@modelcontextprotocol/sdk/server/streamableHttp.js';
import http from 'node:http';
import type { AddressInfo } from 'node:net';
import { z } from 'zod';

/** A server of tools as the protocol's own library makes one, with a book of what was done. */
export interface ToolServer {
  readonly url: string;
  readonly token: string;
  readonly done: { readonly tool: string; readonly input: unknown; readonly key: unknown }[];
  /** The next calls of tools break off after they were done. */
  breakOff: number;
  close(): Promise<void>;
}

export async function startTools(): Promise<ToolServer> {
  const done: ToolServer['done'][number][] = [];
  const state: ToolServer = { url: '', token: 'token-of-the-tools', done, breakOff: 0, close: async () => undefined };
  const made = () => {
    const server = new McpServer({ name: 'harbour-log', version: '1' });
    const note = (tool: string) => async (input: Record<string, unknown>, extra: { _meta?: Record<string, unknown> | undefined }) => {
      done.push({ tool, input, key: extra._meta?.['leadline/idempotency-key'] });
      return { content: [{ type: 'text' as const, text: JSON.stringify({ id: `N-${done.length}`, ...input }) }] };
    };
    server.registerTool('enter', { description: 'Enter a line into the log', inputSchema: { text: z.string(), berth: z.string().optional() } }, note('enter'));
    server.registerTool('mark', { description: 'Mark a berth', inputSchema: { berth: z.string() }, annotations: { idempotentHint: true } }, note('mark'));
    server.registerTool('refuse', { inputSchema: {} }, async () => ({ isError: true, content: [{ type: 'text' as const, text: 'the log is closed' }] }));
    return server;
  };
  const listening = http.createServer((request, response) => {
    if (request.headers.authorization !== `Bearer ${state.token}`) return void response.writeHead(401).end();
    const parts: Buffer[] = [];
    request.on('data', (part: Buffer) => parts.push(part)).on('end', () => void answer(Buffer.concat(parts).toString('utf8')));
    const answer = async (text: string) => {
      const body: unknown = text === '' ? undefined : JSON.parse(text);
      if (state.breakOff > 0 && (body as { method?: string } | undefined)?.method === 'tools/call') {
        state.breakOff -= 1;
        response.end = () => {
          request.socket.destroy();
          return response;
        };
      }
      const transport = new StreamableHTTPServerTransport({ sessionIdGenerator: undefined, enableJsonResponse: true });
      await made().connect(transport as Parameters<McpServer['connect']>[0]);
      await transport.handleRequest(request, response, body);
    };
  }).listen(0, '127.0.0.1');
  await new Promise((resolve) => listening.once('listening', resolve));
  return Object.assign(state, { url: `http://127.0.0.1:${(listening.address() as AddressInfo).port}/mcp`, close: () => new Promise<void>((resolve) => { listening.closeAllConnections(); listening.close(() => resolve()); }) });
}
