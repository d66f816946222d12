import { Command } from 'commander';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { KIND_SCHEMA, PIPELINE_SCHEMA } from '@/core/definition/schemas';
import { parseKind, parsePipeline } from '@/core/definition/parse';
import { SAMPLE_KINDS } from '@/services/demo';
import { dryRun } from './run';
import { printText, readFile } from './read';
import { soundFolder, teachFolder } from './sound';
import { withServices } from './with-services';

/** Everything that can be done without a browser. Exit codes: 0 well, 1 something needs a person, 2 it could not be done. */
const program = new Command('leadline').description('Read documents, check definitions, manage sources').exitOverride((error) => process.exit(error.exitCode === 0 ? 0 : 2));

program
  .command('read <file>')
  .description('read a document with a kind and print what was found; needs no server and no database')
  .requiredOption('--kind <kind>', 'key of a kind in demo/kinds or ./kinds, or the path of its YAML file')
  .option('--list <key=file>', 'reference data for a list that the kind is bound to: CSV or workbook; can be given several times', (text: string, before: string[]) => [...before, text], [])
  .option('--json', 'print JSON')
  .action(async (file: string, options: { kind: string; list: string[]; json?: boolean }) => process.exit(await readFile(file, options)));

program
  .command('text <file>')
  .description('print the text of a document with its columns kept, or its words with places as hOCR')
  .option('--hocr', 'print hOCR 1.2')
  .action(async (file: string, options: { hocr?: boolean }) => process.exit(await printText(file, options)));

program
  .command('sound <kind> <folder>')
  .description('measure a kind on a folder of samples; needs no server and no database')
  .option('--list <key=file>', 'reference data for a list that the kind is bound to', (text: string, before: string[]) => [...before, text], [])
  .option('--json', 'print JSON')
  .action(async (kind: string, folder: string, options: { list: string[]; json?: boolean }) => process.exit(await soundFolder(kind, folder, options)));

program
  .command('teach <kind> <folder>')
  .description('add to a kind what a folder of confirmed samples teaches')
  .requiredOption('--out <file>', 'the taught kind')
  .option('--json', 'print JSON')
  .action(async (kind: string, folder: string, options: { out: string; json?: boolean }) => process.exit(await teachFolder(kind, folder, options)));

program
  .command('run <pipeline> <file>')
  .description('send a file through a pipeline and show what would be written; needs no server and no database')
  .requiredOption('--dry', 'nothing is written; a real run needs the server')
  .option('--list <key=file>', 'reference data for a list that a kind is bound to', (text: string, before: string[]) => [...before, text], [])
  .option('--json', 'print JSON')
  .action(async (pipeline: string, file: string, options: { list: string[]; json?: boolean }) => process.exit(await dryRun(pipeline, file, options)));

program
  .command('check <file>')
  .description('check a kind or pipeline file')
  .action((file: string) => {
    const text = readFileSync(file, 'utf8');
    const parsed = /^leadline:\s*pipeline\//m.test(text) ? parsePipeline(text) : parseKind(text);
    if (parsed.ok) return console.log(`${file} is in order.`);
    for (const mistake of parsed.mistakes) console.log(`${file}:${mistake.line}:${mistake.column}: ${mistake.text}`);
    process.exit(1);
  });

program
  .command('schemas [folder]')
  .description('write the JSON Schemas of the file formats')
  .action((folder = 'docs/schemas') => {
    for (const [name, schema] of [['kind', KIND_SCHEMA], ['pipeline', PIPELINE_SCHEMA]] as const) writeFileSync(path.join(folder, `${name}.schema.json`), `${JSON.stringify(schema, null, 2)}\n`);
  });

program
  .command('publish <file>')
  .description('publish a kind or pipeline from its YAML file')
  .option('--note <text>', 'what is new', 'Published from a file')
  .action(async (file: string, { note }: { note: string }) => {
    const yaml = readFileSync(file, 'utf8');
    const { publish } = await import('@/services/definitions');
    const { key, version } = await withServices((services, actor) => publish(services, actor, /^leadline:\s*pipeline\//m.test(yaml) ? 'pipeline' : 'kind', yaml, note));
    console.log(`${key}, version ${version}`);
  });

const source = program.command('source').description('mailboxes and folders that are watched');
source.command('list').action(async () => {
  const { describeSources } = await import('@/services/sources');
  for (const row of await withServices((services) => describeSources(services))) console.log(`${row.key}\t${row.connectorName}\t→ ${row.pipeline}\t${row.enabled ? (row.problem ?? 'well') : 'off'}`);
});
source
  .command('mailbox <key>')
  .description('watch a mailbox; the password is read from standard input')
  .requiredOption('--host <name>')
  .requiredOption('--user <name>')
  .requiredOption('--pipeline <key>')
  .option('--port <number>', 'port', '993')
  .option('--plain', 'no encryption from the start')
  .option('--folder <name>', 'folder', 'INBOX')
  .option('--move-to <folder>', 'move taken mails there instead of marking them as read')
  .action(async (key: string, options: { host: string; user: string; pipeline: string; port: string; plain?: boolean; folder: string; moveTo?: string }) => {
    const settings = { host: options.host, port: Number(options.port), secure: !options.plain, user: options.user, folder: options.folder, ...(options.moveTo ? { after: 'move', moveTo: options.moveTo } : {}) };
    await addSource({ key, connector: 'mailbox', settings, secret: readFileSync(0, 'utf8').trim(), pipeline: options.pipeline });
  });
source
  .command('folder <key> <path>')
  .description('watch a folder')
  .requiredOption('--pipeline <key>')
  .option('--done <name>', 'subfolder for taken files', 'taken')
  .action((key: string, folder: string, options: { pipeline: string; done: string }) => addSource({ key, connector: 'folder', settings: { path: path.resolve(folder), doneFolder: options.done }, secret: null, pipeline: options.pipeline }));
source.command('remove <key>').action(async (key: string) => {
  const { removeSource } = await import('@/services/sources');
  await withServices((services, actor) => removeSource(services, actor, key));
  console.log(`${key} is no longer watched; its documents stay.`);
});

async function addSource(input: { key: string; connector: string; settings: unknown; secret: string | null; pipeline: string }): Promise<void> {
  const { saveSource, trySource } = await import('@/services/sources');
  const whole = { ...input, name: input.key, enabled: true };
  const found = await withServices(async (services, actor) => {
    const answer = await trySource(services, whole);
    await saveSource(services, actor, whole);
    return answer;
  });
  console.log(`${found} It is watched now.`);
}

program
  .command('refloat <run>')
  .description('set a stranded run going again')
  .action(async (run: string) => {
    const { refloat } = await import('@/services/runs');
    await withServices((services, actor) => refloat(services, actor, run));
    console.log('It is queued.');
  });

program
  .command('demo')
  .command('send <kind>')
  .description(`let an invented document arrive in the running demo: ${SAMPLE_KINDS.join(', ')}`)
  .action(async (kind: string) => {
    const file = path.resolve('data/running.json');
    if (!existsSync(file)) throw new Error('The demo is not running. Start it with “npm run demo”.');
    const { control } = JSON.parse(readFileSync(file, 'utf8')) as { control: string };
    const answer = await fetch(`${control}/send/${encodeURIComponent(kind)}`, { method: 'POST' }).catch(() => null);
    if (!answer) throw new Error('The demo does not answer. Start it with “npm run demo”.');
    if (!answer.ok) throw new Error(`“${kind}” is not known. Known: ${SAMPLE_KINDS.join(', ')}.`);
    console.log(`Sent: ${((await answer.json()) as { sent: string }).sent}.`);
  });

try {
  await program.parseAsync();
} catch (error) {
  console.error((error as Error).message);
  process.exit(2);
}
