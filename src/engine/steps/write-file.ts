import path from 'node:path';
import { putFile } from '@/connectors/result-file/result-file';
import { safeFileName } from '@/connectors/limits';
import type { WriteFileStep } from '@/core/pipeline/definition';
import { dataOf, fillIn } from '@/core/pipeline/values';
import { deliveryKey, thingSent, type StepContext, type StepHandler } from '../step';

const ENDINGS: Readonly<Record<string, string>> = { 'application/pdf': '.pdf' };

/** The name is free or holds the same bytes already; so doing it again changes nothing, and nothing needs to be asked. */
export const writeFile: StepHandler<WriteFileStep> = async (step, context) => {
  const { engine, scope } = context;
  const folders = fillIn(step.folder ?? '', scope).split('/').map((part) => safeFileName(part, '')).filter((part) => part !== '');
  const wanted = safeFileName(fillIn(step.name, scope), 'document');
  const ending = endingOf(step, context);
  const name = wanted.toLowerCase().endsWith(ending) ? wanted : `${wanted}${ending}`;
  const target = ['file', ...folders, name].join('/').slice(0, 300);
  const send = async () => {
    const file = await putFile(path.join(engine.workbookFolder, ...folders), name, await bytesOf(step, context), engine.exclusive);
    return { rows: 1, left: 0, values: { file: [...folders, file].join('/') } };
  };
  return { then: 'send', delivery: { key: deliveryKey(context), target, rows: 1, confirm: async () => null, send, result: thingSent(target) } };
};

function endingOf(step: WriteFileStep, { document }: StepContext): string {
  if (step.content === 'searchable') return ENDINGS['application/pdf'] ?? '';
  return step.content === 'values' ? '.json' : path.extname(document.fileName).toLowerCase();
}

async function bytesOf(step: WriteFileStep, { engine, document, scope }: StepContext): Promise<Buffer> {
  switch (step.content) {
    case 'original':
      return engine.outside.original(document.sha256);
    case 'searchable':
      return engine.outside.searchable(document.id);
    case 'values':
      return Buffer.from(`${JSON.stringify(dataOf(scope), null, 2)}\n`);
  }
}
