import type { MailStep, WriteCsvStep, WriteFileStep, WriteListStep, WriteTableStep, WriteWorkbookStep } from '../definition';
import { tableOf } from '../targets';
import { connectionComplaints, pick, rowsText, say, usesOfPlan, usesOfTemplate, type FormPart, type StepEntry, type Surroundings } from './entry';
import { fileName, key, longText, object, rowPlan, text } from './schema-parts';

const rows = (of: 'list' | 'free'): FormPart[] => [{ is: 'pick', at: 'each', label: 'Rows', of: 'table', optional: 'One row per document' }, { is: 'columns', at: 'columns', label: 'Columns', of }];
const UNLESS: FormPart = { is: 'text', at: 'unless', label: 'Leave a row out when this column has its value already', optional: true };

export const writeList: StepEntry<WriteListStep> = {
  name: 'List', group: 'Write', about: 'Write rows to a list of Leadline', words: 'save table results insert list',
  schema: { properties: { list: key, ...rowPlan }, required: ['list', 'columns'] },
  blank: (id) => ({ id, do: 'write-list', list: '', columns: {} }),
  sentence: (step, nameOf) => [say(`Write ${rowsText(step)} to the list `), pick(step.list === '' ? '' : nameOf('list', step.list))],
  form: [{ is: 'pick', at: 'list', label: 'To the list', of: 'results list' }, ...rows('list'), UNLESS],
  uses: usesOfPlan,
  complain: listComplaints,
};

function listComplaints(step: WriteListStep, { lists }: Surroundings): string[] {
  const list = lists.find((candidate) => candidate.key === step.list);
  if (!list) return [step.list === '' ? 'Choose the list to write to.' : `There is no list “${step.list}”. Make it first.`];
  if (!list.results) return [`“${list.name}” is reference data; pipelines cannot write to it.`];
  return [];
}

export const writeWorkbook: StepEntry<WriteWorkbookStep> = {
  name: 'Workbook', group: 'Write', about: 'Write rows to the tabs of a workbook', words: 'xlsx spreadsheet sheet append',
  schema: { properties: { file: fileName('xlsx'), tabs: { type: 'array', items: object({ tab: { type: 'string', minLength: 1, maxLength: 31 }, ...rowPlan }, ['tab', 'columns']), minItems: 1, maxItems: 20 } }, required: ['file', 'tabs'] },
  blank: (id) => ({ id, do: 'write-workbook', file: 'Results.xlsx', tabs: [{ tab: 'Documents', columns: { Document: 'document.name' } }] }),
  sentence: (step) => [say('Write to the workbook '), pick(step.file), say(': '), ...step.tabs.flatMap((tab, index) => [say(index === 0 ? '' : '; '), say(`${rowsText(tab)} on `), pick(tab.tab)])],
  form: [{ is: 'text', at: 'file', label: 'File', help: 'Ends in .xlsx' }, { is: 'tabs', at: 'tabs' }],
  uses: (step) => step.tabs.flatMap(usesOfPlan),
};

export const writeCsv: StepEntry<WriteCsvStep> = {
  name: 'CSV', group: 'Write', about: 'Write rows to a CSV file', words: 'text file comma export append',
  schema: { properties: { file: fileName('csv'), ...rowPlan }, required: ['file', 'columns'] },
  blank: (id) => ({ id, do: 'write-csv', file: 'Results.csv', columns: { Document: 'document.name' } }),
  sentence: (step) => [say(`Write ${rowsText(step)} to the CSV file `), pick(step.file)],
  form: [{ is: 'text', at: 'file', label: 'File', help: 'Ends in .csv' }, ...rows('free'), UNLESS],
  uses: usesOfPlan,
};

export const writeTable: StepEntry<WriteTableStep> = {
  name: 'Database', group: 'Write', about: 'Write rows to a table of a database', words: 'sql insert table database mysql mariadb',
  schema: { properties: { connection: key, table: text, keyColumn: text, each: rowPlan.each, columns: rowPlan.columns }, required: ['connection', 'table', 'keyColumn', 'columns'] },
  blank: (id) => ({ id, do: 'write-table', connection: '', table: '', keyColumn: 'leadline_key', columns: {} }),
  sentence: (step, nameOf) => [say(`Write ${rowsText(step)} to the table `), pick(step.table), say(' of '), pick(step.connection === '' ? '' : nameOf('connection', step.connection))],
  form: [{ is: 'pick', at: 'connection', label: 'Database', of: 'database connection' }, { is: 'database table', at: 'table', label: 'Table' }, { is: 'text', at: 'keyColumn', label: 'Column for the delivery key', help: 'Text of at least 120 characters; by it a row is known to have been written' }, ...rows('free')],
  uses: usesOfPlan,
  complain: tableComplaints,
};

function tableComplaints(step: WriteTableStep, around: Surroundings): string[] {
  const connection = connectionComplaints(step.connection, ['database'], around);
  if (connection.length > 0) return connection;
  if (step.table === '') return ['Name the table to write to.'];
  const tables = around.connections.find(({ key: candidate }) => candidate === step.connection)?.tables ?? [];
  const table = tableOf(step, around);
  if (tables.length > 0 && !table) return [`The database shows no table “${step.table}”. It shows ${tables.map(({ name }) => name).slice(0, 12).join(', ')}. If it is new, try the connection again.`];
  return table && !table.columns.some(({ name }) => name === step.keyColumn) ? [`“${step.table}” has no column “${step.keyColumn}” for the delivery key. Add it there (text of at least 120 characters), or name another.`] : [];
}

export const writeFile: StepEntry<WriteFileStep> = {
  name: 'File', group: 'Write', about: 'Put the document, renamed, into a folder', words: 'save rename pdf searchable archive move copy json',
  schema: { properties: { folder: text, name: text, content: { enum: ['original', 'searchable', 'values'] } }, required: ['name', 'content'] },
  blank: (id) => ({ id, do: 'write-file', name: '{document.name}', content: 'original' }),
  sentence: (step) => [say('Put '), pick(CONTENTS[step.content]), say(' as '), pick(step.name), say(' into '), pick(step.folder ?? 'the results folder')],
  form: [{ is: 'template', at: 'name', label: 'Name, without ending', help: 'Values in braces: {number}' }, { is: 'template', at: 'folder', label: 'Folder', optional: true }, { is: 'choice', at: 'content', label: 'What', options: [{ value: 'original', label: 'the document as it came' }, { value: 'searchable', label: 'a searchable PDF' }, { value: 'values', label: 'the values as JSON' }] }],
  uses: (step) => usesOfTemplate(step.name, step.folder),
  gives: () => [{ name: 'file', label: 'Name of the file' }],
};

const CONTENTS = { original: 'the document', searchable: 'a searchable PDF', values: 'its values as JSON' } as const;

export const mail: StepEntry<MailStep> = {
  name: 'Mail', group: 'Write', about: 'Send a mail', words: 'email message notify alert reply smtp',
  schema: { properties: { connection: key, to: text, subject: text, text: longText, attach: { type: 'boolean' } }, required: ['connection', 'to', 'subject', 'text'] },
  blank: (id) => ({ id, do: 'mail', connection: '', to: '{document.sender}', subject: 'About {document.name}', text: 'Received, thank you.' }),
  sentence: (step) => [say('Send a mail to '), pick(step.to), say(': '), pick(step.subject), ...(step.attach ? [say(', with the document')] : [])],
  form: [{ is: 'pick', at: 'connection', label: 'Through', of: 'mail connection' }, { is: 'template', at: 'to', label: 'To' }, { is: 'template', at: 'subject', label: 'Subject' }, { is: 'long template', at: 'text', label: 'Text' }, { is: 'switch', at: 'attach', label: 'Attach the document' }],
  uses: (step) => usesOfTemplate(step.to, step.subject, step.text),
  complain: (step, around) => connectionComplaints(step.connection, ['mail'], around),
};
