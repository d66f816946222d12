import type { Child } from './children.mjs';
export interface System {
  readonly env: Record<string, string>;
  mail(control: number, user: { name: string; password: string }): Promise<Child>;
  reading(): Promise<Child>;
  ledger(): Promise<Child>;
  web(): Promise<Child>;
  worker(number: number, leaseMs?: number): Promise<Child>;
  sender(folder: string, seconds: string): Promise<Child>;
  loaded(folder: string): { args: string[]; env: Record<string, string> };
}
export function systemIn(options: { root: string; dataFolder: string; databaseUrl: string; host?: string; port: number; demo: number; smtpPort: number; imapPort: number; readingPort?: number; ledgerPort?: number }): System;
export function noteDatabase(dataFolder: string, url: string): void;
export function freePort(): Promise<number>;
