declare module 'hoodiecrow-imap' {
  import type { Server } from 'node:net';
  interface Options {
    plugins: string[];
    users: Record<string, { password: string }>;
    storage: Record<string, Record<string, unknown>>;
  }
  interface ImapServer {
    readonly server: Server;
    listen(port: number, host: string, done: () => void): void;
    appendMessage(folder: string, flags: string[], date: Date | false, raw: string): void;
    getMailbox(path: string): { messages: { uid: number; flags: string[]; raw: string }[] };
    close(done: () => void): void;
  }
  function hoodiecrow(options: Options): ImapServer;
  export default hoodiecrow;
}
