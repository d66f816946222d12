import { sql } from 'drizzle-orm';
import Joi from 'joi';
import type { Counts } from '@/contracts/api';
import { Refusal } from '@/services/context';
import type { WeatherReport } from '@/contracts/reading-service';
import { demoWeather, SAMPLE_KINDS, sendSample, type SampleKind } from '@/services/demo';
import { countByState } from '@/store/queries/runs';
import { countTasks } from '@/store/queries/tasks';
import { describeKeeping, setKeeping } from '@/services/keeping';
import type { Keeping } from '@/store/queries/keeping';
import { json, operation, silently } from '../operation';
import { openApi } from '../openapi';

const days = Joi.number().integer().min(1).max(36_500).description('Days; null: for good');

export const SYSTEM_OPERATIONS = [
  operation({
    method: 'GET',
    path: '/health',
    summary: 'Is everything there that is needed?',
    answers: { 200: 'Database and at least one worker answer', 503: 'Something is missing' },
    handle: async ({ services }) => {
      const [rows] = (await services.store.db.execute(sql`SELECT COUNT(*) AS workers FROM worker WHERE seen_at > NOW(6) - INTERVAL 20 SECOND`)) as unknown as [{ workers: number }[]];
      const workers = Number(rows[0]?.workers ?? 0);
      return json({ database: 'answers', workers, state: workers > 0 ? 'well' : 'no worker' }, workers > 0 ? 200 : 503);
    },
  }),
  operation({
    method: 'GET',
    path: '/counts',
    summary: 'What needs somebody',
    answers: { 200: 'Counts for the top bar' },
    handle: async ({ services }) => {
      const [tasks, runs] = await Promise.all([countTasks(services.store.db), countByState(services.store.db)]);
      const counts: Counts = { desk: tasks.open, setAside: tasks['set aside'], stranded: runs.stranded ?? 0, demo: services.settings.demo };
      return json(counts);
    },
  }),
  operation<unknown, Keeping>({ method: 'GET', path: '/keeping', summary: 'How long things are kept, and what is over already', query: Joi.object({ papersDays: days, factsDays: days }), answers: { 200: 'The rule, or what another one that is only considered would mean' }, handle: async ({ services, query }) => json(await describeKeeping(services, query.papersDays === undefined && query.factsDays === undefined ? null : { papersDays: query.papersDays ?? null, factsDays: query.factsDays ?? null })) }),
  operation<unknown, unknown, Keeping>({ method: 'PUT', path: '/keeping', summary: 'Change how long things are kept', body: Joi.object({ papersDays: days.allow(null).required(), factsDays: days.allow(null).required() }), answers: { 204: 'Workers clear away what is over within the hour' }, handle: silently(({ services, actor, body }) => setKeeping(services, actor, body)) }),
  operation<unknown, unknown, { kind: SampleKind }>({
    method: 'POST',
    path: '/demo/send',
    summary: 'Demo only: let an invented document arrive now',
    body: Joi.object({ kind: Joi.string().valid(...SAMPLE_KINDS).required() }),
    answers: { 202: 'On its way' },
    handle: async ({ services, body }) => {
      if (!services.settings.demo) throw new Refusal('not-found', 'This is not the demo.');
      return json({ sent: await sendSample(services.settings, body.kind) }, 202);
    },
  }),
  operation({ method: 'GET', path: '/demo/weather', summary: 'Demo only: how badly the simulated services behave', answers: { 200: 'The weather, and what befell callers' }, handle: async ({ services }) => json(await demoWeather(services.settings)) }),
  operation<unknown, unknown, { service: string; state: WeatherReport['state'] }>({ method: 'PUT', path: '/demo/weather', summary: 'Demo only: let one behave better or worse', body: Joi.object({ service: Joi.string().max(60).required(), state: Joi.string().valid('calm', 'choppy', 'storm').required() }), answers: { 200: 'The weather' }, handle: async ({ services, body }) => json(await demoWeather(services.settings, body)) }),
  operation({ method: 'GET', path: '/openapi.json', summary: 'This interface as OpenAPI 3.1', answers: { 200: 'The document' }, handle: async ({ services }) => json(openApi(services.settings.url)) }),
];
