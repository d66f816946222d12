import type { Handlers } from '../step';
import { approve, ask } from './ask';
import { check } from './check';
import { desk } from './desk';
import { call, send } from './http';
import { lookUp } from './look-up';
import { mail } from './mail';
import { match } from './match';
import { branch, each, set, stop, wait } from './plain';
import { read } from './read';
import { sort } from './sort';
import { start } from './start';
import { tool } from './tool';
import { writeCsv } from './write-csv';
import { writeFile } from './write-file';
import { writeList } from './write-list';
import { writeTable } from './write-table';
import { writeWorkbook } from './write-workbook';

export const HANDLERS: Handlers = {
  sort, read, check, 'look-up': lookUp, match, set, call, desk, ask, approve, wait, branch, each, start, stop,
  'write-list': writeList, 'write-workbook': writeWorkbook, 'write-csv': writeCsv, 'write-table': writeTable, 'write-file': writeFile, send, tool, mail,
};
