import { folderSource } from './folder/source';
import { mailboxSource } from './mailbox/source';
import type { SourceConnector } from './source';

/** Every source connector: one folder, one line. */
export const SOURCES: Readonly<Record<string, SourceConnector<never>>> = {
  [mailboxSource.key]: mailboxSource as SourceConnector<never>,
  [folderSource.key]: folderSource as SourceConnector<never>,
};
