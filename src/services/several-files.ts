import type { ArrivedFile, Several } from '@/connectors/source';
import type { LEFT_ON_PURPOSE } from '@/store/queries/documents';
import { isUnitable, unite } from '@/digitise/unite';

/** A file that becomes a document; `left`: why it is kept and not run. */
export interface Taken {
  readonly file: ArrivedFile;
  readonly left: { readonly code: (typeof LEFT_ON_PURPOSE)[number]; readonly text: string } | null;
}

/** Documents from the files of one event. Whatever is not run is kept with a sentence. */
export async function taken(files: readonly ArrivedFile[], several: Several): Promise<Taken[]> {
  const each = files.map((file): Taken => ({ file, left: null }));
  if (files.length < 2 || several === 'each') return each;
  if (several === 'first') return files.map((file, index) => ({ file, left: index === 0 ? null : { code: 'left-out', text: `Only the first file that comes together with others is taken here, “${files[0]?.name ?? ''}”. This one is kept.` } }));
  const parts = files.filter(({ bytes }) => isUnitable(bytes));
  const one = parts.length < 2 ? null : await united(parts);
  // Data and texts have no pages to put behind others; where pages cannot be put together, each file says what is wrong with it.
  return one === null ? each : [{ file: one, left: null }, ...files.map((file): Taken => ({ file, left: parts.includes(file) ? { code: 'part-of-one', text: `It is a part of “${one.name}”.` } : null }))];
}

/** Files with pages as one; null where they cannot be put together. */
export async function united(files: readonly ArrivedFile[]): Promise<ArrivedFile | null> {
  const bytes = await unite(files.map((file) => file.bytes));
  const [first] = files;
  if (bytes === null || !first) return null;
  const stem = first.name.replace(/\.[^.]+$/, '').slice(0, 150);
  return { name: `${stem} and ${files.length - 1} more.pdf`, mediaType: 'application/pdf', bytes };
}
