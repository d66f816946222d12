import type { StepFailure } from '@/core/resilience/failure';
import { startTools, type ToolServer } from '../../../tests/support/tools';
import { mcpConnector, callTool } from './mcp';

let server: ToolServer;
beforeAll(async () => (server = await startTools()));
afterAll(() => server.close());

const use = (tool: string, input: Record<string, unknown> = {}, secret = server.token) => callTool({ url: server.url }, secret, { tool, input, key: 'K1' }, 'connection:log');
const failureOf = (call: Promise<unknown>) => call.then(() => null, (error: unknown) => (error as StepFailure).failure);

test('tells what tools there are, what they want, and which may be repeated', async () => {
  const { found, offers } = await mcpConnector.tryOut({ url: server.url } as never, server.token);
  expect(found).toContain('offers 3 tools: enter, mark, refuse');
  expect((offers as { tools: unknown[] }).tools).toEqual([
    { name: 'enter', about: 'Enter a line into the log', inputs: ['text', 'berth'], needed: ['text'], repeatable: false },
    { name: 'mark', about: 'Mark a berth', inputs: ['berth'], needed: ['berth'], repeatable: true },
    { name: 'refuse', about: '', inputs: [], needed: [], repeatable: false },
  ]);
});
test('uses a tool with the key of the delivery, and gives what it answers as data', async () => {
  expect(await use('enter', { text: 'Kittiwake moored' })).toEqual({ id: 'N-1', text: 'Kittiwake moored' });
  expect(server.done).toEqual([{ tool: 'enter', input: { text: 'Kittiwake moored' }, key: 'K1' }]);
});
test('a tool that says no, or is given the wrong things, was surely not used', async () => {
  expect(await failureOf(use('refuse'))).toMatchObject({ code: 'service-refused', untouched: true, message: expect.stringContaining('the log is closed') });
  expect(await failureOf(use('enter', { berth: 'A1' }))).toMatchObject({ code: 'service-refused', untouched: true });
});
test('a wrong token is asked for, and a server that is away is tried again', async () => {
  expect(await failureOf(use('enter', { text: 'x' }, 'wrong'))).toMatchObject({ code: 'no-credential', about: 'connection:log' });
  expect(await failureOf(callTool({ url: 'http://127.0.0.1:59999/mcp' }, null, { tool: 'enter', input: {}, key: 'K' }))).toMatchObject({ code: 'service-down', untouched: true });
});
test('an answer that breaks off may have been done', async () => {
  server.breakOff = 1;
  const before = server.done.length;
  const failure = await failureOf(use('enter', { text: 'y' }));
  expect([failure?.code, failure?.untouched, server.done.length - before]).toEqual(['service-down', undefined, 1]);
});
