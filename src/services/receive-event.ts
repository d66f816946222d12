import { lastPart } from '@/connectors/http/download';
import { safeFileName } from '@/connectors/limits';
import type { ArrivedFile, Reference, Several } from '@/connectors/source';
import type { Given } from '@/core/pipeline/facts';
import { newId } from '@/settings/identifier';
import type { Actor } from '@/store/queries/audit';
import { EVENT_SENT } from '@/store/queries/documents';
import type { Services } from './context';
import { receive, type Received } from './receive';

/** An event that says something, and where its files can be fetched; the files themselves do not come along. */
export interface EventInput {
  readonly sender: string | null;
  readonly subject: string | null;
  readonly occurredAt: string | null;
  readonly properties: Given;
  readonly files: readonly Reference[];
  readonly several: Several;
}

/** Record an event of properties. Its files are fetched when a step needs them, and never where none does. */
export async function receiveEvent(services: Services, actor: Actor, pipelineKey: string, event: EventInput, idempotencyKey: string | null): Promise<Received> {
  const { sender, subject, occurredAt, properties, files, several } = event;
  const dedupeKey = idempotencyKey === null ? `once:${newId()}` : `event:${pipelineKey}:${idempotencyKey}`.slice(0, 200);
  return receive(services, actor, { sourceKey: 'endpoint', pipelineKey }, { dedupeKey, type: EVENT_SENT, sender, subject, occurredAt, files: filesOf(event), problem: null, data: { properties, files: files.map(({ at, connection }) => ({ at, connection })), several }, given: properties });
}

/** A document for each file, for the first, for all of them together, or for the event alone. */
function filesOf({ subject, properties, files, several }: EventInput): ArrivedFile[] {
  const text = [subject ?? 'Event', ...Object.entries(properties).map(([name, value]) => `${name}: ${value ?? ''}`)].join('\n');
  const document = (name: string, awaits: readonly Reference[]): ArrivedFile => ({ name, mediaType: 'text/plain', bytes: Buffer.from(`${text}\n`), ...(awaits.length > 0 ? { awaits } : {}) });
  if (files.length === 0) return [document(`${safeFileName(subject, 'event').slice(0, 150)}.txt`, [])];
  const groups = several === 'each' ? files.map((file) => [file]) : several === 'first' ? [files.slice(0, 1)] : [[...files]];
  return groups.map((group) => document(nameOf(group), group));
}

function nameOf([first, ...others]: readonly Reference[]): string {
  const last = safeFileName(first?.name ?? lastPart(first?.at ?? ''), 'file');
  return others.length === 0 ? last.slice(0, 200) : `${last.slice(0, 150)} and ${others.length} more`;
}
