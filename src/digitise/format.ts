export type FileFormat = 'pdf' | 'picture' | 'xml' | 'text';

/** First bytes, and what such a file is called. */
const SIGNATURES: readonly (readonly [string, string, FileFormat | null])[] = [
  ['\x89PNG\r\n', 'a PNG picture', 'picture'],
  ['\xff\xd8\xff', 'a JPEG picture', 'picture'],
  ['II*\x00', 'a TIFF picture', 'picture'],
  ['MM\x00*', 'a TIFF picture', 'picture'],
  ['PK\x03\x04', 'a packed or office file', null],
  ['\xd0\xcf\x11\xe0', 'an old office file', null],
  ['GIF8', 'a GIF picture', null],
  ['{\\rtf', 'a formatted text', null],
];

const signatureOf = (bytes: Buffer) => SIGNATURES.find(([mark]) => bytes.subarray(0, mark.length).toString('latin1') === mark);

/** What can be read of these bytes; null for anything else. The file name is not asked: it lies too often. */
export function formatOf(bytes: Buffer): FileFormat | null {
  // Readers accept the mark of a PDF anywhere in the first 1,024 bytes (ISO 32000-1, annex H, note 13).
  if (bytes.subarray(0, 1024).includes('%PDF-')) return 'pdf';
  const known = signatureOf(bytes);
  if (known) return known[2];
  if (!isText(bytes)) return null;
  return /^\s*(?:\ufeff)?<(?:\?xml|[A-Za-z][\w.-]*:?[\w.-]*\s+xmlns)/.test(bytes.subarray(0, 400).toString('utf8')) ? 'xml' : 'text';
}

export const nameOfFormat = (bytes: Buffer): string => signatureOf(bytes)?.[1] ?? 'a file of an unknown kind';

/** Valid UTF-8 or Latin text without control characters. */
function isText(bytes: Buffer): boolean {
  const head = bytes.subarray(0, 8192);
  return head.every((byte) => byte >= 32 || byte === 9 || byte === 10 || byte === 12 || byte === 13 || byte === 27);
}
