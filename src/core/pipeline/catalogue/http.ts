import { METHODS, type CallStep, type HttpRequest, type SendStep } from '../definition';
import { connectionComplaints, neededComplaints, pick, say, usesOfTemplate, type FormPart, type NameOf, type SentencePart, type StepEntry, type Surroundings, type Use } from './entry';
import { headerName, key, longText, mapOf, text, value } from './schema-parts';

const request = {
  connection: key, method: { enum: METHODS }, path: { type: 'string', maxLength: 1000, pattern: '^/' },
  query: mapOf(value, text), headers: mapOf(value, headerName), body: mapOf(value, text), as: { enum: ['json', 'form', 'original'] }, take: mapOf(longText, text),
} as const;

const PARTS: readonly FormPart[] = [
  { is: 'pick', at: 'connection', label: 'Connection', of: 'http connection' },
  { is: 'operation', at: 'path', label: 'What it says it can do' },
  { is: 'choice', at: 'method', label: 'Method', options: METHODS.map((method) => ({ value: method, label: method })) },
  { is: 'template', at: 'path', label: 'Path', help: 'Below the address of the connection; values in braces: /bills/{number}' },
  { is: 'columns', at: 'query', label: 'Query', of: 'free' },
  { is: 'columns', at: 'body', label: 'Body', of: 'free' },
  { is: 'choice', at: 'as', label: 'Sent as', options: [{ value: 'json', label: 'JSON' }, { value: 'form', label: 'a form with the document as a file' }, { value: 'original', label: 'the document itself' }] },
  { is: 'columns', at: 'headers', label: 'Headers', of: 'free' },
  { is: 'places', at: 'take', label: 'Take from the answer', help: 'Name and place in the answer: id, or lines[0].price' },
];

const sentence = (verb: string) => (step: HttpRequest, nameOf: NameOf): SentencePart[] => [say(`${verb} `), pick(step.connection === '' ? '' : nameOf('connection', step.connection)), say(': '), pick(`${step.method} ${step.path}`)];
const uses = (step: HttpRequest): Use[] => [...usesOfTemplate(step.path), ...[step.query, step.headers, step.body].flatMap((values) => Object.values(values ?? {}).map((value) => ({ value })))];
const gives = (step: HttpRequest) => Object.keys(step.take ?? {}).map((name) => ({ name, label: name }));

/** A secret belongs into the connection: written here it would be shown to everybody who reads the pipeline, and kept in its runs. */
function requestComplaints(step: HttpRequest, around: Surroundings): string[] {
  const secret = Object.keys(step.headers ?? {}).find((name) => /^(authorization|proxy-authorization|x-api-key|api-key|cookie)$/i.test(name));
  return [...connectionComplaints(step.connection, ['http'], around), ...(secret === undefined ? [] : [`The header “${secret}” would put a secret into the pipeline and its runs. Keep it with the connection instead.`]), ...bodyComplaints(step, around)];
}

/** Whatever stands in the braces of a path. */
const shapeOf = (path: string): string => path.replace(/\{[^{}]*\}/g, '{}');

/** What the application says it needs. */
function bodyComplaints(step: HttpRequest, { connections }: Surroundings): string[] {
  const operation = connections.find(({ key }) => key === step.connection)?.operations?.find(({ method, path }) => method === step.method && shapeOf(path) === shapeOf(step.path));
  return step.as === 'original' ? [] : neededComplaints(`“${step.method} ${step.path}”`, operation?.needed ?? [], Object.keys(step.body ?? {}));
}

export const call: StepEntry<CallStep> = {
  name: 'Call', group: 'Read', about: 'Ask a service over HTTP and use its answer', words: 'http api rest request get post service webhook',
  schema: { properties: request, required: ['connection', 'method', 'path'] },
  blank: (id) => ({ id, do: 'call', connection: '', method: 'GET', path: '/' }),
  sentence: sentence('Ask'), form: PARTS, uses, gives, complain: requestComplaints,
};

export const send: StepEntry<SendStep> = {
  name: 'Send', group: 'Write', about: 'Write into a business application over HTTP, exactly once', words: 'http api rest post erp accounting application webhook create',
  schema: { properties: { ...request, confirm: { type: 'string', maxLength: 1000, pattern: '^/' } }, required: ['connection', 'method', 'path'] },
  blank: (id) => ({ id, do: 'send', connection: '', method: 'POST', path: '/' }),
  sentence: sentence('Write to'),
  form: [...PARTS, { is: 'template', at: 'confirm', label: 'Where to ask whether it has arrived', help: 'A path; 404 means no. Needed only where the application does not keep keys', optional: true }],
  uses: (step) => [...uses(step), ...usesOfTemplate(step.confirm)], gives, complain: requestComplaints,
};
