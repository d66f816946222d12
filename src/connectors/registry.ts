import { addressesPlace } from './addresses/batch';
import type { BatchPlace } from './batch';
import { folderPlace } from './folder/batch';
import { folderSource } from './folder/source';
import { mailboxPlace } from './mailbox/batch';
import { mailboxSource } from './mailbox/source';
import type { Connector } from './connection';
import { databaseConnector } from './database/query';
import { httpConnector } from './http/http';
import { mailConnector } from './mail/smtp';
import { mcpConnector } from './mcp/mcp';
import { readingServiceConnector } from './reading-service/client';
import type { SourceConnector } from './source';

/** Every source connector: one folder, one line. */
export const SOURCES: Readonly<Record<string, SourceConnector<never>>> = {
  [mailboxSource.key]: mailboxSource as SourceConnector<never>,
  [folderSource.key]: folderSource as SourceConnector<never>,
};

/** Every place that can be worked through as a batch. */
export const PLACES: Readonly<Record<string, BatchPlace<never>>> = {
  [folderPlace.key]: folderPlace as BatchPlace<never>,
  [mailboxPlace.key]: mailboxPlace as BatchPlace<never>,
  [addressesPlace.key]: addressesPlace as BatchPlace<never>,
};

/** Every service and database connector. */
export const CONNECTORS: Readonly<Record<string, Connector<never>>> = {
  [readingServiceConnector.key]: readingServiceConnector as Connector<never>,
  [databaseConnector.key]: databaseConnector as Connector<never>,
  [httpConnector.key]: httpConnector as Connector<never>,
  [mailConnector.key]: mailConnector as Connector<never>,
  [mcpConnector.key]: mcpConnector as Connector<never>,
};
