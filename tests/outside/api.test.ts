/** The interface description against the OpenAPI 3.1 schema, as a general validator knows it. */
import { execFileSync } from 'node:child_process';
import { openApi } from '@/app/api/openapi';
import { OPERATIONS } from '@/app/api/operations';
import { problem } from '@/app/api/problem';

const VALIDATE = `
import { Validator } from '@seriousme/openapi-schema-validator';
let text = '';
for await (const chunk of process.stdin) text += chunk;
const validator = new Validator();
const result = await validator.validate(JSON.parse(text));
process.stdout.write(JSON.stringify({ valid: result.valid, errors: result.errors, version: validator.version }));
`;

test('the OpenAPI document is valid 3.1', () => {
  const answer = execFileSync(process.execPath, ['--input-type=module', '-e', VALIDATE], { input: JSON.stringify(openApi('http://127.0.0.1')), encoding: 'utf8' });
  expect(JSON.parse(answer)).toEqual({ valid: true, version: '3.1' });
});

test('every operation is described, with an identifier of its own', () => {
  const paths = openApi('http://127.0.0.1')['paths'] as Record<string, Record<string, { operationId: string }>>;
  const ids = Object.values(paths).flatMap((methods) => Object.values(methods).map((operation) => operation.operationId));
  expect(ids).toHaveLength(OPERATIONS.length);
  expect(new Set(ids).size).toBe(OPERATIONS.length);
});

// RFC 9457, section 3: members type, title, status, detail; media type application/problem+json.
test('problems have the members and the media type of RFC 9457', async () => {
  const answer = problem(404, 'Not there', 'There is no run X.', 'not-found');
  expect(answer.headers.get('content-type')).toBe('application/problem+json');
  expect([answer.status, await answer.json()]).toEqual([404, { type: 'urn:leadline:not-found', title: 'Not there', status: 404, detail: 'There is no run X.' }]);
});
