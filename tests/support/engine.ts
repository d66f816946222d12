import type { Engine } from '@/engine/engine';
import type { Services } from '@/services/context';
import { seededChance } from '@/settings/random';
import { engineFrom } from '@/worker/engine';

/** The worker's engine on a test bed; with quick retries, repeatable chance, and whatever else a test wants to be otherwise. */
export function testEngine(services: Services, changes: Partial<Engine> = {}): Engine {
  return { ...engineFrom(services), budget: { baseMs: 1, capMs: 5, attempts: 3, totalMs: 60_000 }, chance: seededChance(1), ...changes };
}
