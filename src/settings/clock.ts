/** The one place where the program reads the time of its own machine. Deadlines in the engine use the database's clock instead. */
export interface Clock {
  /** Milliseconds since 1970. */
  nowMs(): number;
}

export const systemClock: Clock = { nowMs: () => Date.now() };

export const pause = (ms: number, signal?: AbortSignal): Promise<void> =>
  new Promise((resolve) => {
    if (signal?.aborted) return resolve();
    const timer = setTimeout(done, ms);
    function done() {
      clearTimeout(timer);
      signal?.removeEventListener('abort', done);
      resolve();
    }
    signal?.addEventListener('abort', done);
  });
