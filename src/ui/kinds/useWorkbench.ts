'use client';
import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import type { SampleView, Workbench, WorkbenchTally } from '@/contracts/workbench';
import type { Truth } from '@/core/measuring/compare';
import type { KindDefinition } from '@/core/reading/kind';
import type { DocumentReading } from '@/core/reading/reading';
import { ask, post } from '../api';
import { useNotices } from '../frame/Notices';

/** One sample with what is read of it now. */
export interface Column {
  readonly sample: SampleView;
  readonly reading: DocumentReading | null;
  readonly tally: WorkbenchTally['samples'][number] | null;
}

/** The workbench of one kind: draft, samples and the tally, and everything that can be done to them. */
export function useWorkbench(key: string) {
  const client = useQueryClient();
  const { tell, warn } = useNotices();
  const bench = useQuery({ queryKey: ['still', 'workbench', key], queryFn: () => ask<Workbench>(`/kinds/${key}/workbench`) });
  const tally = useQuery({ queryKey: ['still', 'readings', key, bench.data?.revision ?? 0, bench.data?.samples.map((sample) => `${sample.id}${sample.revision}`).join() ?? ''], queryFn: () => post<WorkbenchTally>(`/kinds/${key}/readings`), enabled: bench.data !== undefined, placeholderData: keepPreviousData, staleTime: Infinity });
  const [busy, setBusy] = useState<string | null>(null);
  const again = () => client.invalidateQueries({ queryKey: ['still', 'workbench', key] });
  const doing = async <T,>(what: string, work: () => Promise<T>, done?: (result: T) => string | null): Promise<T | null> => {
    setBusy(what);
    try {
      const result = await work();
      const text = done?.(result);
      if (text) tell(text);
      await again();
      return result;
    } catch (error) {
      warn(error);
      await again();
      return null;
    } finally {
      setBusy(null);
    }
  };
  const columns = useMemo(() => (bench.data?.samples ?? []).map((sample): Column => {
    const found = tally.data?.samples.find((candidate) => candidate.id === sample.id) ?? null;
    return { sample, tally: found, reading: found?.reading ?? null };
  }), [bench.data, tally.data]);
  const keepKind = (kind: KindDefinition) => doing('keeping the draft', () => ask(`/kinds/${key}/draft`, { method: 'PUT', body: { revision: bench.data?.revision ?? 0, definition: kind } }));
  const keepTruth = (sample: SampleView, truth: Truth, confirm: boolean) => doing('keeping the values', () => ask(`/samples/${sample.id}`, { method: 'PUT', body: { revision: sample.revision, truth: { fields: truth.fields, tables: truth.tables ?? {} }, ...(confirm ? { state: 'confirmed' } : {}) } }));
  return { bench, columns, reading: tally.isFetching, busy, again, doing, keepKind, keepTruth };
}

export type WorkbenchWork = ReturnType<typeof useWorkbench>;

/** The value of a field as it stands for a sample: confirmed, or as read. */
export function standing(column: Column, field: string): { readonly value: string | null; readonly looked: boolean } {
  const { truth } = column.sample;
  if (field in truth.fields) return { value: truth.fields[field] ?? null, looked: true };
  return { value: column.reading?.fields[field]?.value ?? null, looked: false };
}

/** Rows of a table as they stand for a sample. */
export function standingRows(column: Column, table: string): { readonly rows: readonly Readonly<Record<string, string | null>>[]; readonly looked: boolean } {
  const confirmed = column.sample.truth.tables?.[table];
  if (confirmed) return { rows: confirmed, looked: true };
  return { rows: (column.reading?.tables[table] ?? []).map((row) => Object.fromEntries(Object.entries(row).map(([key, cell]) => [key, cell.value]))), looked: false };
}

/** Everything of a sample as it stands, as confirmed values. */
export function standingTruth(kind: KindDefinition, column: Column): Truth {
  return {
    fields: Object.fromEntries(kind.fields.map((field) => [field.key, standing(column, field.key).value])),
    tables: Object.fromEntries(kind.tables.map((table) => [table.key, standingRows(column, table.key).rows.map((row) => Object.fromEntries(table.columns.map((cell) => [cell.key, row[cell.key] ?? null])))])),
  };
}
