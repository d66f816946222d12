import { readFileSync } from 'node:fs';
import { KIND_YAML, PIPELINE_YAML } from '../../../tests/support/definitions';
import { parseKind, parsePipeline } from './parse';
import { KIND_SCHEMA, PIPELINE_SCHEMA } from './schemas';

describe('reading definitions', () => {
  test('the demo files are in order', () => {
    expect([parseKind(KIND_YAML).ok, parsePipeline(PIPELINE_YAML).ok]).toEqual([true, true]);
  });
  test('broken YAML is told with line and column', () => {
    const parsed = parsePipeline('leadline: pipeline/1\nkey: x\nname: "unclosed\n');
    expect(!parsed.ok && parsed.mistakes[0]).toMatchObject({ line: expect.any(Number), column: expect.any(Number), text: expect.stringContaining('quote') });
  });
  test('an unknown word is told where it stands', () => {
    const parsed = parsePipeline(PIPELINE_YAML.replace('do: check', 'do: check, colour: red'));
    expect(!parsed.ok && parsed.mistakes).toEqual([{ line: 9, column: 5, text: '“steps › 1” has “colour”, which is not known here.' }]);
  });
  test('two steps of one name are refused', () => {
    const parsed = parsePipeline(PIPELINE_YAML.replace('id: check', 'id: read'));
    expect(!parsed.ok && parsed.mistakes[0]?.text).toContain('“read” stands here twice');
  });
  test('a layout that reads a field which the kind does not have is refused', () => {
    const parsed = parseKind(KIND_YAML.replace('      waiting: [{ reader: anchor, anchors: [Waiting time]', '      wating: [{ reader: anchor, anchors: [Waiting time]'));
    expect(!parsed.ok && parsed.mistakes[0]?.text).toBe('Layout “Merrow Haulage” reads “wating”, which is no field of this kind.');
  });
  test('a pattern that cannot be run in linear time is refused', () => {
    const parsed = parseKind(KIND_YAML.replace("'MH-\\d{6}'", "'(MH)-\\1'"));
    expect(!parsed.ok && parsed.mistakes[0]?.text).toContain('cannot be used');
  });
  test('two fields that read one rectangle contradict each other', () => {
    const zone = (key: string, box: string) => `      ${key}: [{ reader: zone, box: [${box}] }]\n`;
    const withZones = (...zones: string[]) => parseKind(`leadline: kind/1\nkey: k\nname: K\nfields:\n  - { key: a, label: A, type: text }\n  - { key: b, label: B, type: text }\nlayouts:\n  - key: l\n    name: L\n    recognise: [L]\n    locale: { decimal: ".", dates: dmy }\n    tables: {}\n    fields:\n${zones.join('')}`);
    const texts = (parsed: ReturnType<typeof parseKind>) => (parsed.ok ? [] : parsed.mistakes.map((mistake) => mistake.text));
    expect(texts(withZones(zone('a', '10, 10, 90, 30'), zone('b', '11, 10, 90, 30')))).toEqual(['“b” and “a” read the same rectangle in layout “L”; a place can be only one of them.']);
    expect(texts(withZones(zone('a', '10, 10, 90, 30'), zone('b', '10, 40, 90, 60')))).toEqual([]);
    expect(texts(withZones(zone('a', '90, 10, 10, 30')))[0]).toContain('has no size');
  });
  test('a list or a service that fills what is not there is refused', () => {
    const parsed = parseKind(KIND_YAML.replace('checks:', 'bindings:\n  - { list: hauliers, field: hauler }\nservices:\n  - { service: lens, tier: glance, price: "0.01", fields: { totl: total_amount } }\nchecks:'));
    expect(!parsed.ok && parsed.mistakes.map((mistake) => mistake.text)).toEqual(['The list “hauliers” fills “hauler”, which is no field of this kind.', 'The service “lens” fills “totl”, which this kind does not have.']);
  });
  test('a bomb of aliases does not go off', () => {
    const bomb = ['a: &a [x,x,x,x,x,x,x,x,x,x]', ...'bcdefgh'.split('').map((name, index) => `${name}: &${name} [${Array(10).fill(`*${'abcdefgh'[index]}`).join(',')}]`)].join('\n');
    expect(() => parseKind(bomb)).not.toThrow();
    expect(parseKind(bomb).ok).toBe(false);
  });
  test('the published schema files are those in force', () => {
    expect(JSON.parse(readFileSync('docs/schemas/kind.schema.json', 'utf8'))).toEqual(JSON.parse(JSON.stringify(KIND_SCHEMA)));
    expect(JSON.parse(readFileSync('docs/schemas/pipeline.schema.json', 'utf8'))).toEqual(JSON.parse(JSON.stringify(PIPELINE_SCHEMA)));
  });
});
