import type { PipelineView } from '@/contracts/api';

/** Where the documents of a pipeline come from: what is watched for it, and the pipelines that start it. Empty: only what is sent to it. */
export const originsOf = ({ sources, startedBy }: Pick<PipelineView, 'sources' | 'startedBy'>): string => [...sources.filter(({ enabled }) => enabled).map(({ name }) => name), ...startedBy].join(', ');
