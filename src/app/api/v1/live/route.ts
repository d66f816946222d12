import { sql } from 'drizzle-orm';
import { pause } from '@/settings/clock';
import { services } from '@/app/services';

export const dynamic = 'force-dynamic';

/** How often the database is asked whether anything has changed, ms; one question serves all who listen. */
const LOOK_MS = 700;
/** A comment now and then keeps proxies from closing a quiet stream. */
const QUIET_ROUNDS = 20;

const listeners = new Set<(mark: string) => void>();
let looking = false;

/** Server-sent events: one `changed` whenever documents, runs, tasks or sources have changed. What changed, the views ask themselves. */
export function GET(request: Request): Response {
  const encoder = new TextEncoder();
  const stream = new ReadableStream<Uint8Array>({
    start(controller) {
      const tell = (mark: string) => controller.enqueue(encoder.encode(mark === '' ? ': still here\n\n' : `event: changed\ndata: ${JSON.stringify({ mark })}\n\n`));
      listeners.add(tell);
      request.signal.addEventListener('abort', () => {
        listeners.delete(tell);
        controller.close();
      });
      tell('');
      if (!looking) void look();
    },
  });
  return new Response(stream, { headers: { 'content-type': 'text/event-stream', 'cache-control': 'no-store', connection: 'keep-alive' } });
}

async function look(): Promise<void> {
  looking = true;
  let last = '';
  for (let round = 1; listeners.size > 0; round += 1) {
    const mark = await markOfChange().catch(() => last);
    const changed = mark !== last && last !== '';
    last = mark;
    if (changed || round % QUIET_ROUNDS === 0) for (const tell of listeners) tell(changed ? mark : '');
    await pause(LOOK_MS);
  }
  looking = false;
}

async function markOfChange(): Promise<string> {
  const [rows] = (await services().store.db.execute(sql`SELECT (SELECT MAX(updated_at) FROM run) AS run, (SELECT MAX(id) FROM document) AS document, (SELECT MAX(updated_at) FROM task) AS task, (SELECT MAX(problem) FROM source) AS source`)) as unknown as [Record<string, unknown>[]];
  return Object.values(rows[0] ?? {}).join('|');
}
