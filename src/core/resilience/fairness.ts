/** A pipeline with runs that are due. */
export interface Claimant {
  readonly key: string;
  /** Runs of it that are under way, over all workers. */
  readonly working: number;
  /** −2 … 2; each step up doubles its share. */
  readonly priority: number;
}

/**
 * How many runs of each pipeline a worker takes up now: place by place to the one that has least for its weight (weighted max-min
 * fairness, Bertsekas & Gallager, Data Networks, 6.5.2). A burst in one pipeline so never starves another.
 */
export function shareOut(places: number, claimants: readonly Claimant[]): ReadonlyMap<string, number> {
  const shares = new Map<string, number>();
  for (let place = 0; place < places && claimants.length > 0; place += 1) {
    const load = ({ key, working, priority }: Claimant): number => (working + (shares.get(key) ?? 0) + 1) / 2 ** priority;
    const least = claimants.reduce((best, candidate) => (load(candidate) < load(best) ? candidate : best));
    shares.set(least.key, (shares.get(least.key) ?? 0) + 1);
  }
  return shares;
}
