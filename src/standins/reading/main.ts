import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import type http from 'node:http';
import path from 'node:path';
import type { JobState, Offers, ServiceResult } from '@/contracts/reading-service';
import { answer, standUp, type Call } from '../service';
import { problem, Skies } from '../weather';
import { FIELDS, plainReading, readingOf, TABLES, TIERS, type Known, type TierNature } from './reader';

/**
 * A simulated extraction service with three tiers. Arguments: port, key, folder for what it knows and has been paid.
 * Besides the contract: `PUT /known/SHA256` tells it a document's true values, `GET|PUT /weather`, `GET /books` what was asked and paid.
 */
const [port = '', secret = '', folder = ''] = process.argv.slice(2);
const skies = new Skies(2026);

interface Job {
  readonly id: string;
  readonly key: string;
  readonly sha256: string;
  readonly tier: string;
  readonly readyAt: number;
  readonly result: ServiceResult | null;
  /** Who wants to be told when it is done. */
  callback?: string;
}

/** What was asked and paid; kept over a restart, as a service would. */
interface Books {
  readonly jobs: Job[];
  submissions: number;
  /** Jobs that nobody waits for any more. */
  cancelled?: string[];
}

mkdirSync(path.join(folder, 'known'), { recursive: true });
const booksFile = path.join(folder, 'books.json');
const books: Books = existsSync(booksFile) ? (JSON.parse(readFileSync(booksFile, 'utf8')) as Books) : { jobs: [], submissions: 0 };
const keepBooks = (): void => writeFileSync(booksFile, JSON.stringify(books));
const knownFile = (sha256: string): string => path.join(folder, 'known', `${sha256}.json`);

function knownOf(sha256: string, bytes: Buffer): Known | null {
  return existsSync(knownFile(sha256)) ? (JSON.parse(readFileSync(knownFile(sha256), 'utf8')) as Known) : plainReading(bytes);
}

const stateOf = (job: Job): JobState => {
  const left = job.readyAt - Date.now();
  if (left > 0) return { job: job.id, state: 'working', pollAfterMs: Math.min(1000, left) };
  return job.result ? { job: job.id, state: 'done', result: job.result } : { job: job.id, state: 'failed', reason: 'Nothing could be read on it.' };
};

/** Tell whoever waits. An address that does not answer is no reason to worry: they ask by themselves. */
function callBack(address: string, inMs: number): void {
  setTimeout(() => void fetch(address, { method: 'POST' }).catch(() => undefined), inMs).unref();
}

/** Submitting twice under one key gives the first job again: nobody pays twice for one document. */
function submit(bytes: Buffer, tier: TierNature, key: string): Job {
  books.submissions += 1;
  const before = books.jobs.find((job) => job.key === key);
  if (before) return before;
  const sha256 = createHash('sha256').update(bytes).digest('hex');
  const known = knownOf(sha256, bytes);
  const job: Job = { id: `job-${books.jobs.length + 1}`, key, sha256, tier: tier.name, readyAt: Date.now() + tier.thinksMs, result: known ? readingOf(known, tier, sha256) : null };
  books.jobs.push(job);
  keepBooks();
  return job;
}

/** Calls of the demo and the tests. */
async function control({ method, parts, body }: Call, response: http.ServerResponse): Promise<boolean> {
  const [first, sha256] = parts;
  if (method === 'PUT' && first === 'known' && sha256) {
    writeFileSync(knownFile(sha256.replace(/[^0-9a-f]/g, '')), await body());
    response.writeHead(204).end();
    return true;
  }
  if (method !== 'GET' || first !== 'books') return false;
  answer(response, 200, { submissions: books.submissions, cancelled: books.cancelled ?? [], jobs: books.jobs.map(({ id, key, tier: of, result, callback }) => ({ id, key, tier: of, cost: result?.cost ?? '0', callback })) });
  return true;
}

function take(job: Job, callback: string | null, response: http.ServerResponse): void {
  if (callback !== null) job.callback = callback;
  if (callback !== null) callBack(callback, Math.max(0, job.readyAt - Date.now()));
  answer(response, 202, stateOf(job));
}

async function serve({ method, url, parts, headers, body }: Call, response: http.ServerResponse): Promise<void> {
  const [version, second, third] = parts;
  const tier = TIERS.find((candidate) => candidate.name === url.searchParams.get('tier'));
  switch (`${method} ${version ?? ''}/${second ?? ''}`) {
    case 'GET v1/offers':
      return answer(response, 200, { name: 'Harbour Lens', currency: 'EUR', tiers: TIERS.map(({ name, about, pricePerPage }) => ({ name, about, pricePerPage })), fields: [...FIELDS], tables: TABLES.map((table) => ({ name: table.name, columns: [...table.columns] })) } satisfies Offers);
    case 'GET v1/readings': {
      const job = books.jobs.find((candidate) => candidate.sha256 === third && candidate.tier === tier?.name && candidate.result);
      return job?.result ? answer(response, 200, job.result) : problem(response, 404, 'Not read yet', 'These bytes were not read at this tier.');
    }
    case 'POST v1/jobs':
      if (!tier) return problem(response, 400, 'No such tier', `Tiers are ${TIERS.map(({ name }) => name).join(', ')}.`);
      return take(submit(await body(), tier, String(headers['idempotency-key'] ?? '')), url.searchParams.get('callback'), response);
    case 'DELETE v1/jobs':
      books.cancelled = [...(books.cancelled ?? []), String(third)];
      keepBooks();
      response.writeHead(204).end();
      return;
    case 'GET v1/jobs': {
      const job = books.jobs.find((candidate) => candidate.id === third);
      return job ? answer(response, 200, stateOf(job)) : problem(response, 404, 'No such job', 'This job is not known.');
    }
    default:
      return problem(response, 404, 'Nothing here', `${method} ${url.pathname} is not known.`);
  }
}

standUp({ port: Number(port), secret, skies, control, serve });
