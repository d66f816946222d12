import { existsSync, mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import path from 'node:path';

export interface Bill {
  readonly id: string;
  readonly vendor: string;
  readonly number: string;
  readonly date: string | null;
  readonly total: string;
  readonly note: string | null;
  readonly lines: readonly unknown[];
  readonly attachments: { readonly name: string; readonly size: number }[];
  /** The key under which it was posted. */
  readonly key: string | null;
}

export interface Receipt {
  readonly id: string;
  readonly supplier: string | null;
  /** Number of the delivery note. */
  readonly note: string;
  readonly date: string | null;
  /** What came, and on which line of which order. */
  readonly lines: readonly { readonly order: string; readonly line: number; readonly quantity: string }[];
  readonly key: string | null;
}

export interface Order {
  readonly id: string;
  readonly supplier: string;
  readonly lines: readonly { readonly line: number; readonly item: string; readonly text: string; readonly quantity: string; readonly unit: string; readonly price: string }[];
}

export interface Vendor {
  readonly id: string;
  readonly name: string;
  readonly account: string;
}

/** What it was told by signed webhook; the same id is taken once. */
export interface Heard {
  readonly id: string;
  readonly type: string;
  readonly subject: string;
  /** How often it came. */
  times: number;
}

/** Everything the application keeps; written after each change, as a database would. */
export interface Records {
  readonly vendors: Vendor[];
  readonly orders: Order[];
  readonly bills: Bill[];
  readonly receipts: Receipt[];
  readonly heard: Heard[];
  /** Idempotency key → the answer that was given. */
  readonly answered: Record<string, { readonly request: string; readonly status: number; readonly body: unknown }>;
}

const EMPTY: Records = { vendors: [], orders: [], bills: [], receipts: [], heard: [], answered: {} };

export function openBooks(folder: string): { readonly records: Records; keep(): void } {
  mkdirSync(folder, { recursive: true });
  const file = path.join(folder, 'ledger.json');
  const records = existsSync(file) ? { ...EMPTY, ...(JSON.parse(readFileSync(file, 'utf8')) as Partial<Records>) } : EMPTY;
  return {
    records,
    keep() {
      writeFileSync(`${file}.part`, JSON.stringify(records));
      renameSync(`${file}.part`, file);
    },
  };
}
