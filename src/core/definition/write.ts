import { stringify } from 'yaml';
import type { PipelineDefinition } from '@/core/pipeline/definition';

/** The text of a pipeline as the builder writes it; parsing it gives the same pipeline. */
export const pipelineText = (pipeline: PipelineDefinition): string => stringify(pipeline, { lineWidth: 0, aliasDuplicateObjects: false });
