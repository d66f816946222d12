import { folderSource } from './folder/source';
import { mailboxSource } from './mailbox/source';
import type { Connector } from './connection';
import { databaseConnector } from './database/query';
import { httpConnector } from './http/http';
import { mailConnector } from './mail/smtp';
import { readingServiceConnector } from './reading-service/client';
import type { SourceConnector } from './source';

/** Every source connector: one folder, one line. */
export const SOURCES: Readonly<Record<string, SourceConnector<never>>> = {
  [mailboxSource.key]: mailboxSource as SourceConnector<never>,
  [folderSource.key]: folderSource as SourceConnector<never>,
};

/** Every service and database connector. */
export const CONNECTORS: Readonly<Record<string, Connector<never>>> = {
  [readingServiceConnector.key]: readingServiceConnector as Connector<never>,
  [databaseConnector.key]: databaseConnector as Connector<never>,
  [httpConnector.key]: httpConnector as Connector<never>,
  [mailConnector.key]: mailConnector as Connector<never>,
};
