/** What others can be told of. The names are CloudEvents types. */
export const NOTICE_TYPES = {
  'leadline.run.finished': 'A run has finished',
  'leadline.run.stranded': 'A run is stranded',
  'leadline.task.opened': 'Somebody is needed at the desk',
} as const;

export type NoticeType = keyof typeof NOTICE_TYPES;

/** What happened, as it is kept in the log. */
export interface Notice {
  /** ULID; the same happening keeps it however often it is told. */
  readonly id: string;
  readonly type: NoticeType;
  readonly runId: string;
  readonly pipelineKey: string;
  readonly data: NoticeData;
  /** ISO 8601, UTC. */
  readonly at: string;
}

export interface NoticeData {
  readonly document: string;
  readonly version: number;
  readonly step?: string | null;
  /** Why a run ended before its last step. */
  readonly stopped?: string | null;
  readonly failure?: { readonly code: string; readonly message: string };
  readonly task?: { readonly id: string; readonly title: string; readonly reason: string };
}

/** CloudEvents 1.0, JSON format, structured mode. */
export interface CloudEvent {
  readonly specversion: '1.0';
  readonly id: string;
  readonly source: string;
  readonly type: string;
  readonly subject: string;
  readonly time: string;
  readonly datacontenttype: 'application/json';
  readonly data: Readonly<Record<string, unknown>>;
}

/**
 * A notice as others get it; addresses lead back to our own screens. `base`: where we are reached, without a slash at the end.
 * Source: CloudEvents 1.0.2, sections 3.1 (required attributes) and 3.2.
 */
export function cloudEventOf(notice: Notice, base: string): CloudEvent {
  const { id, type, runId, pipelineKey, data, at } = notice;
  const { document, task, ...more } = data;
  return {
    specversion: '1.0', id, type, time: at, datacontenttype: 'application/json',
    source: `${base}/pipelines/${pipelineKey}`,
    subject: `runs/${runId}`,
    data: { run: runId, pipeline: pipelineKey, ...more, document: { id: document, address: `${base}/documents/${document}` }, ...(task ? { task: { ...task, address: `${base}/desk/${task.id}` } } : {}), address: `${base}/runs/${runId}` },
  };
}
