export interface Database {
  readonly folder: string;
  url(database: string): string;
  stop(): Promise<void>;
}
export function startDatabase(folder: string, databases?: readonly string[], how?: { readonly durable?: boolean }): Promise<Database>;
export function freePort(): Promise<number>;
