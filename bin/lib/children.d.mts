export interface Child {
  readonly pid: number;
  readonly exited: Promise<unknown>;
  stop(patience?: number): Promise<void>;
  kill(): void;
}
export function startChild(options: { name: string; args: string[]; env: Record<string, string>; log: string; ready: RegExp | string; seconds?: number }): Promise<Child>;
export function runChild(program: string, args: string[], options?: { env?: Record<string, string>; cwd?: string; show?: boolean }): Promise<string>;
