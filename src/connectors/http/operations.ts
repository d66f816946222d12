/** One operation of an application, as its OpenAPI description tells it. */
export interface Operation {
  readonly method: string;
  readonly path: string;
  readonly summary: string;
  /** Names of the members of its JSON body; needed ones first. */
  readonly body: readonly string[];
  /** Those without which it is refused. */
  readonly needed: readonly string[];
}

const METHODS = ['get', 'post', 'put', 'patch', 'delete'] as const;
/** Operations and members that are kept for choosing from. */
const MOST_OPERATIONS = 500;
const MOST_MEMBERS = 60;
/** References that are followed in a row: descriptions may refer to themselves. */
const MOST_REFERENCES = 8;

type Node = Readonly<Record<string, unknown>>;
const isNode = (value: unknown): value is Node => typeof value === 'object' && value !== null && !Array.isArray(value);

/** The operations of an OpenAPI description (3.0 and 3.1), in its order; none where it is no description. Never throws. */
export function operationsIn(description: unknown): Operation[] {
  if (!isNode(description) || !isNode(description['paths'])) return [];
  const found = Object.entries(description['paths']).flatMap(([path, item]) => METHODS.flatMap((method) => {
    const operation = isNode(item) ? item[method] : undefined;
    if (!isNode(operation)) return [];
    return [{ method: method.toUpperCase(), path: path.slice(0, 300), summary: textOf(operation['summary'] ?? operation['operationId']), ...membersOf(operation, description) }];
  }));
  return found.slice(0, MOST_OPERATIONS);
}

const textOf = (value: unknown): string => (typeof value === 'string' ? value.slice(0, 200) : '');

function membersOf(operation: Node, root: Node): Pick<Operation, 'body' | 'needed'> {
  const schema = resolved(dig(operation, ['requestBody', 'content', 'application/json', 'schema'], root), root);
  const properties = schema?.['properties'];
  if (!isNode(properties)) return { body: [], needed: [] };
  const required = Array.isArray(schema?.['required']) ? (schema['required'] as unknown[]) : [];
  const names = Object.keys(properties);
  const needed = names.filter((name) => required.includes(name)).slice(0, MOST_MEMBERS);
  return { body: [...needed, ...names.filter((name) => !required.includes(name))].slice(0, MOST_MEMBERS), needed };
}

function dig(from: Node, way: readonly string[], root: Node): Node | null {
  return way.reduce<Node | null>((at, name) => {
    const next = at === null ? undefined : resolved(at, root)?.[name];
    return isNode(next) ? next : null;
  }, from);
}

/** Follow references within the description (RFC 6901 pointers); others are not fetched. */
function resolved(node: Node | null, root: Node): Node | null {
  let at = node;
  for (let count = 0; count < MOST_REFERENCES && typeof at?.['$ref'] === 'string'; count += 1) {
    const parts = at['$ref'].startsWith('#/') ? at['$ref'].slice(2).split('/').map((part) => part.replaceAll('~1', '/').replaceAll('~0', '~')) : null;
    at = parts ? parts.reduce<Node | null>((place, part) => (isNode(place?.[part]) ? (place[part] as Node) : null), root) : null;
  }
  return at;
}
