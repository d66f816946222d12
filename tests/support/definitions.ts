import { readFileSync } from 'node:fs';
import { parseKind, parsePipeline } from '@/core/definition/parse';
import type { PipelineDefinition } from '@/core/pipeline/definition';
import type { KindDefinition } from '@/core/reading/kind';

const text = (file: string): string => readFileSync(file, 'utf8');
export const KIND_YAML = text('demo/kinds/haulage-bill.yaml');
export const PIPELINE_YAML = text('tests/support/pipelines/haulage-to-ledger.yaml');

export function billKind(): KindDefinition {
  const parsed = parseKind(KIND_YAML);
  if (!parsed.ok) throw new Error(JSON.stringify(parsed.mistakes));
  return parsed.definition;
}

export function billPipeline(): PipelineDefinition {
  const parsed = parsePipeline(PIPELINE_YAML);
  if (!parsed.ok) throw new Error(JSON.stringify(parsed.mistakes));
  return parsed.definition;
}
