import { and, desc, eq, sql } from 'drizzle-orm';
import type { PipelineDefinition } from '@/core/pipeline/definition';
import type { KindDefinition } from '@/core/reading/kind';
import { definition } from '../schema';
import { now, type Db, type Queries } from '../database';

export interface Published<T> {
  readonly key: string;
  readonly version: number;
  readonly name: string;
  readonly yaml: string;
  readonly definition: T;
  readonly note: string;
  readonly publishedAt: string;
}

export type DefinitionOf = { kind: KindDefinition; pipeline: PipelineDefinition };
type DefinitionType = keyof DefinitionOf;

/** The newest version, or a given one; null when there is none. */
export async function findDefinition<T extends DefinitionType>(db: Queries, type: T, key: string, version?: number): Promise<Published<DefinitionOf[T]> | null> {
  const wanted = and(eq(definition.type, type), eq(definition.key, key), version === undefined ? undefined : eq(definition.version, version));
  const [row] = await db.select().from(definition).where(wanted).orderBy(desc(definition.version)).limit(1);
  return row ? { ...row, definition: row.definition as DefinitionOf[T] } : null;
}

/** The number of the newest version; null when there is none. */
export async function newestVersion(db: Queries, type: DefinitionType, key: string): Promise<number | null> {
  const [row] = await db.select({ version: definition.version }).from(definition).where(and(eq(definition.type, type), eq(definition.key, key))).orderBy(desc(definition.version)).limit(1);
  return row?.version ?? null;
}

/** The newest version of each. */
export async function listDefinitions<T extends DefinitionType>(db: Queries, type: T): Promise<Published<DefinitionOf[T]>[]> {
  const rows = await db
    .select()
    .from(definition)
    .where(and(eq(definition.type, type), sql`(${definition.key}, ${definition.version}) IN (SELECT \`key\`, MAX(version) FROM definition WHERE type = ${type} GROUP BY \`key\`)`))
    .orderBy(definition.name);
  return rows.map((row) => ({ ...row, definition: row.definition as DefinitionOf[T] }));
}

export interface Publication<T> {
  readonly definition: T;
  readonly yaml: string;
  readonly note: string;
  readonly by: string;
}

/** Add a version. Returns its number; the newest one when its text is the same already. */
export async function publishDefinition<T extends DefinitionType>(db: Queries, type: T, { definition: content, yaml, note, by }: Publication<DefinitionOf[T]>): Promise<number> {
  const newest = await findDefinition(db, type, content.key);
  if (newest?.yaml === yaml) return newest.version;
  const version = (newest?.version ?? 0) + 1;
  await db.insert(definition).values({ type, key: content.key, version, name: content.name, yaml, definition: content, note, publishedAt: now, publishedBy: by });
  return version;
}

/** Versions never change, so they are kept once read; a few hundred fit in memory. */
export function definitionCache(db: Db) {
  const kept = new Map<string, Promise<unknown>>();
  return async function pinned<T extends DefinitionType>(type: T, key: string, version: number): Promise<Published<DefinitionOf[T]> | null> {
    const name = `${type}/${key}/${version}`;
    const known = kept.get(name) as Promise<Published<DefinitionOf[T]> | null> | undefined;
    if (known) return known;
    if (kept.size > 300) kept.clear();
    const asked = findDefinition(db, type, key, version);
    kept.set(name, asked);
    asked.catch(() => kept.delete(name));
    return asked;
  };
}
