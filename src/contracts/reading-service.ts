/**
 * How an extraction service is spoken to. Any service that keeps this contract can be connected.
 *
 * - `GET  /v1/offers` → {@link Offers}
 * - `POST /v1/jobs?tier=NAME`, the file as body, `Idempotency-Key` → 202 {@link JobState}. The same key gives the same job and is paid once.
 *   `&callback=ADDRESS` (optional): told by an empty POST when the job is done. The address is signed by whoever gave it and is only a hint:
 *   the result is fetched as always.
 * - `GET  /v1/jobs/ID` → 200 {@link JobState}
 * - `DELETE /v1/jobs/ID` → 204, nobody waits for it any more (optional; 404 and 405 are fine)
 * - `GET  /v1/readings/SHA256?tier=NAME` → 200 {@link ServiceResult} when the same bytes were read before, 404 otherwise.
 *
 * `Authorization: Bearer KEY` everywhere. 429 and 503 say with `Retry-After` when to come again; errors are RFC 9457 problem details.
 */
export interface Offers {
  readonly name: string;
  /** ISO 4217. */
  readonly currency: string;
  readonly tiers: readonly Tier[];
  /** Names of the values it can return. */
  readonly fields: readonly string[];
  readonly tables: readonly { readonly name: string; readonly columns: readonly string[] }[];
}

export interface Tier {
  readonly name: string;
  readonly about: string;
  /** Decimal. */
  readonly pricePerPage: string;
}

export interface ResultValue {
  /** Plain decimal, ISO date or text. */
  readonly value: string;
  /** 0..1. */
  readonly confidence?: number;
  /** From 1. */
  readonly page?: number;
  /** Points from the top left of the page. */
  readonly box?: readonly [number, number, number, number];
}

export interface ServiceResult {
  readonly pages: number;
  readonly fields: Readonly<Record<string, ResultValue>>;
  readonly tables: Readonly<Record<string, readonly Readonly<Record<string, ResultValue>>[]>>;
  /** Decimal. */
  readonly cost: string;
}

/** How badly a simulated service behaves; of the demo only. */
export interface WeatherReport {
  readonly state: 'calm' | 'choppy' | 'storm';
  /** What has befallen callers so far: mishap → how often. */
  readonly log: Readonly<Record<string, number>>;
}

/** The weather of one of them. */
export interface DemoWeather extends WeatherReport {
  readonly service: string;
  readonly name: string;
}

export type JobState = { readonly job: string } & ({ readonly state: 'working'; readonly pollAfterMs: number } | { readonly state: 'done'; readonly result: ServiceResult } | { readonly state: 'failed'; readonly reason: string });
