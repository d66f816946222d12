import type { Handlers } from '../step';
import { check } from './check';
import { desk } from './desk';
import { branch, set, stop } from './plain';
import { read } from './read';
import { writeList } from './write-list';
import { writeWorkbook } from './write-workbook';

export const HANDLERS: Handlers = { read, check, desk, branch, set, stop, 'write-list': writeList, 'write-workbook': writeWorkbook };
