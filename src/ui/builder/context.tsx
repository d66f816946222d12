'use client';
import { createContext, useContext } from 'react';
import type { TriedPipeline } from '@/contracts/api';
import type { Surroundings } from '@/core/pipeline/catalogue';
import type { PipelineDefinition } from '@/core/pipeline/definition';
import { offersAt, type Offer } from '@/core/pipeline/offers';
import { partsOfSource } from '@/core/pipeline/values';

/** What the parts of a form draw on. */
export interface BuilderView {
  readonly pipeline: PipelineDefinition;
  readonly around: Surroundings;
  readonly documents: TriedPipeline['documents'];
  /** Id of the document whose values are shown while picking. */
  readonly document: string | null;
}

const Context = createContext<BuilderView | null>(null);
export const BuilderProvider = Context.Provider;

export function useBuilderView(): BuilderView {
  const view = useContext(Context);
  if (!view) throw new Error('The parts of a step stand within the builder.');
  return view;
}

export interface OfferWithValue extends Offer {
  /** Of the document that is shown; of rows the first one. */
  readonly value: string | null;
}

/** What a step can pick, with the values of the document that is shown. */
export function useOffers(step: string, table: string | undefined): OfferWithValue[] {
  const { pipeline, around, documents, document } = useBuilderView();
  const data = documents.find(({ id }) => id === document)?.data ?? documents[0]?.data ?? {};
  return offersAt(pipeline, step, around, table).map((offer) => ({ ...offer, value: valueIn(data, offer.source, table) }));
}

/** A picked value in what expressions look at. */
export function valueIn(data: Readonly<Record<string, unknown>>, source: string, table: string | undefined): string | null {
  const { head, tail } = partsOfSource(source);
  if (tail === null) return asText(data[head]);
  if (head === 'row') return asText((rowsIn(data, table)[0] ?? {})[tail]);
  return asText((data[head] as Record<string, unknown> | undefined)?.[tail]);
}

/** The rows of a table; where none is named, of the first there is. */
export function rowsIn(data: Readonly<Record<string, unknown>>, table: string | undefined): Record<string, unknown>[] {
  const rows = table === undefined ? Object.values(data).find(Array.isArray) : data[table];
  return Array.isArray(rows) ? (rows as Record<string, unknown>[]) : [];
}

const asText = (value: unknown): string | null => (typeof value === 'string' ? value : null);
