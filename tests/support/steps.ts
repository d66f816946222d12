import { sql } from 'drizzle-orm';
import { stringify } from 'yaml';
import type { Step } from '@/core/pipeline/definition';
import { advance } from '@/engine/advance';
import type { Engine } from '@/engine/engine';
import { publish } from '@/services/definitions';
import { answerQuestion } from '@/services/questions';
import { receive } from '@/services/receive';
import { describeRun } from '@/services/runs';
import { claimRuns } from '@/store/queries/runs';
import type { TaskRow } from '@/store/queries/tasks';
import { run, task } from '@/store/schema';
import { makeBill } from '../../demo/bills/bill';
import { printBill } from '../../demo/bills/print';
import type { TestBed } from './database';
import { testEngine } from './engine';
import { TESTER } from './scenario';

export const READ: Step = { id: 'read', do: 'read', kind: 'haulage-bill' };
const never = new AbortController().signal;

/** Steps over the real engine: a pipeline of them is published, a bill of Merrow Haulage arrives for it, and workers work. */
export class Steps {
  #count = 0;

  constructor(readonly bed: TestBed) {}

  /** The key of the pipeline that was published last. */
  get key(): string {
    return `p-${this.#count}`;
  }

  /** The key that the next one will have. */
  get nextKey(): string {
    return `p-${this.#count + 1}`;
  }

  /** Returns the id of the run. */
  async run(...steps: Step[]): Promise<string> {
    this.#count += 1;
    const { key, bed } = this;
    await publish(bed.services, TESTER, 'pipeline', stringify({ leadline: 'pipeline/1', key, name: key, steps: [READ, ...steps] }), 'test');
    const bytes = await printBill(makeBill(2));
    // The same bytes again would be a repeat and not run: a comment behind the end of the file makes them others.
    const { documents } = await receive(bed.services, TESTER, { sourceKey: 'endpoint', pipelineKey: key }, { dedupeKey: key, type: 'test', sender: 'accounts@merrow-haulage.example', subject: null, occurredAt: null, problem: null, data: {}, files: [{ name: `${key}.pdf`, mediaType: 'application/pdf', bytes: Buffer.concat([bytes, Buffer.from(`\n% ${key}\n`)]) }] });
    await this.work();
    return documents[0]?.runId ?? '';
  }

  /** Claim and advance whatever is due, and what is due soon, until nothing is left. */
  async work(engine: Engine = testEngine(this.bed.services)): Promise<void> {
    const { db } = this.bed.services.store;
    for (let turn = 0; turn < 60; turn += 1) {
      for (const claim of await claimRuns(db, 'W', 20, 60_000)) await advance(engine, claim, never);
      const [soon] = await db.select({ id: run.id }).from(run).where(sql`state = 'queued' AND due_at < NOW(6) + INTERVAL 5 SECOND`).limit(1);
      if (!soon) return;
      await new Promise((resolve) => setTimeout(resolve, 60));
    }
  }

  async outcome(id: string) {
    const { state, stopped, steps } = await describeRun(this.bed.services, id);
    return { state, stopped, texts: steps.slice(1).map((step) => step.text), failures: steps.flatMap((step) => (step.failure ? [step.failure] : [])) };
  }

  /** The first open task of a run. */
  async openTask(runId: string): Promise<TaskRow> {
    const [open] = await this.bed.services.store.db.select().from(task).where(sql`run_id = ${runId} AND state = 'open'`);
    if (!open) throw new Error(`Nothing is asked for run ${runId}.`);
    return open;
  }

  answer(id: string, value: string | null, more: { values?: Record<string, string>; note?: string } = {}): Promise<void> {
    return answerQuestion(this.bed.services, TESTER, id, { value, values: more.values ?? {}, note: more.note ?? null });
  }
}
