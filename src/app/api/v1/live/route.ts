import { pause } from '@/settings/clock';
import { services } from '@/app/services';
import { markOfChange } from '@/store/queries/changes';

export const dynamic = 'force-dynamic';

/** How often the database is asked whether anything has changed, ms; one question serves all who listen. */
const LOOK_MS = 700;
/** A comment now and then keeps proxies from closing a quiet stream. */
const QUIET_ROUNDS = 20;

interface Listener {
  /** Nothing was said to it yet. */
  fresh: boolean;
  readonly tell: (mark: string | null) => void;
}

const listeners = new Set<Listener>();
let looking = false;

/**
 * Server-sent events: one `changed` whenever documents, runs, tasks or sources have changed, and one at the beginning. What changed, the
 * views ask themselves. The first one matters: what changed between a view's first question and the opening of this stream would
 * otherwise never be told.
 */
export function GET(request: Request): Response {
  const encoder = new TextEncoder();
  let listener: Listener | null = null;
  const leave = (): boolean => listener !== null && listeners.delete(listener);
  const stream = new ReadableStream<Uint8Array>({
    start(controller) {
      const say = (text: string) => controller.enqueue(encoder.encode(text));
      listener = { fresh: true, tell: (mark) => say(mark === null ? ': still here\n\n' : `event: changed\ndata: ${JSON.stringify({ mark })}\n\n`) };
      listeners.add(listener);
      request.signal.addEventListener('abort', () => {
        // Whoever went away may have closed the stream already; then there is nothing left to close.
        if (leave()) controller.close();
      });
      listener.tell(null);
      if (!looking) void look();
    },
    // Whoever reads has gone: nothing more can be said to it.
    cancel: () => void leave(),
  });
  return new Response(stream, { headers: { 'content-type': 'text/event-stream', 'cache-control': 'no-store', connection: 'keep-alive' } });
}

async function look(): Promise<void> {
  looking = true;
  let last = '';
  for (let round = 1; listeners.size > 0; round += 1) {
    // Who comes while the database is asked must be told in the next round: this mark may be older than its first question.
    const present = [...listeners];
    const mark = await markOfChange(services().store.db).catch(() => last);
    // One who went away meanwhile can be told nothing more.
    for (const listener of present.filter((one) => listeners.has(one))) {
      if (mark !== last || listener.fresh) listener.tell(mark);
      else if (round % QUIET_ROUNDS === 0) listener.tell(null);
      listener.fresh = false;
    }
    last = mark;
    await pause(LOOK_MS);
  }
  looking = false;
}
