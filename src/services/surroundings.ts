import { eachStep, type PipelineDefinition, type StartStep } from '@/core/pipeline/definition';
import type { Surroundings } from '@/core/pipeline/catalogue';
import type { OfferedOperation, TableOffer, ToolOffer } from '@/core/pipeline/catalogue/entry';
import { listConnections } from '@/store/queries/connections';
import { listDefinitions } from '@/store/queries/definitions';
import { allLists } from '@/store/queries/lists';
import { newestProperties } from '@/store/queries/documents';
import { headingsIn } from './headings';
import type { Services } from './context';

/** Steps with which a pipeline starts others. */
export const startsOf = (definition: PipelineDefinition): StartStep[] => [...eachStep(definition.steps)].flatMap(({ step }) => (step.do === 'start' && !step.off ? [step] : []));

/** Connections that were tried before their columns were asked for know only names. */
const tablesOf = (offers: unknown): TableOffer[] => ((offers as { tables?: (TableOffer | string)[] } | null)?.tables ?? []).filter((table): table is TableOffer => typeof table === 'object');

/** What a pipeline can refer to, as it is there now. */
export async function surroundingsOf(services: Services): Promise<Surroundings> {
  const { db } = services.store;
  const [kinds, lists, connections, pipelines, told, files] = await Promise.all([listDefinitions(db, 'kind'), allLists(db), listConnections(db), listDefinitions(db, 'pipeline'), newestProperties(db), headingsIn(services.workbookFolder)]);
  return {
    kinds: kinds.map((kind) => kind.definition),
    lists: lists.map((list) => ({ key: list.key, name: list.name, columns: list.columns.map((column) => column.name), types: Object.fromEntries(list.columns.map(({ name, type }) => [name, type])), results: list.keyColumn === null })),
    connections: connections.map(({ key, name, connector, offers }) => ({ key, name, connector, operations: connector === 'http' ? ((offers as { operations?: OfferedOperation[] } | null)?.operations ?? []) : [], tools: connector === 'mcp' ? ((offers as { tools?: ToolOffer[] } | null)?.tools ?? []) : [], tables: connector === 'database' ? tablesOf(offers) : [] })),
    files,
    pipelines: pipelines.map(({ key, name, definition }) => ({ key, name, starts: startsOf(definition).map((step) => step.pipeline), given: [...new Set([...(told.get(key) ?? []), ...pipelines.flatMap((other) => startsOf(other.definition).flatMap((step) => (step.pipeline === key ? Object.keys(step.give ?? {}) : [])))])] })),
  };
}
