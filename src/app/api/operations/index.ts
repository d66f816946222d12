import type { Operation } from '../operation';
import { BATCH_OPERATIONS } from './batches';
import { DESK_OPERATIONS } from './desk';
import { DOCUMENT_OPERATIONS } from './documents';
import { LISTENER_OPERATIONS } from './listeners';
import { LIST_OPERATIONS } from './lists';
import { PIPELINE_OPERATIONS } from './pipelines';
import { RUN_OPERATIONS } from './runs';
import { SETUP_OPERATIONS } from './setup';
import { SYSTEM_OPERATIONS } from './system';
import { WORKBENCH_OPERATIONS } from './workbench';

/** Every operation of the HTTP interface. */
export const OPERATIONS: readonly Operation[] = [...DOCUMENT_OPERATIONS, ...BATCH_OPERATIONS, ...RUN_OPERATIONS, ...DESK_OPERATIONS, ...LIST_OPERATIONS, ...SETUP_OPERATIONS, ...LISTENER_OPERATIONS, ...PIPELINE_OPERATIONS, ...WORKBENCH_OPERATIONS, ...SYSTEM_OPERATIONS];
