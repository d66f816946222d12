/** What is taken from sources, and why not more. */
export const SOURCE_LIMITS = {
  /** A mail with its attachments in base64 is a third larger than the files. */
  mailBytes: 40_000_000,
  /** Files of one mail that are read; more is a mail bomb or an album. */
  filesPerMail: 20,
  /** Files of one folder that are looked at in one round. */
  filesPerRound: 2_000,
  nameCharacters: 200,
} as const;

/** A file name that is safe to keep, show and write: no folders, no control or bidirectional marks, not too long. */
export function safeFileName(name: string | null | undefined, fallback: string): string {
  const last = (name ?? '').split(/[/\\]/).at(-1) ?? '';
  const clean = last.replace(/[\u0000-\u001f\u007f-\u009f\u200b-\u200f\u202a-\u202e\u2066-\u2069<>:"|?*]/g, '').replace(/^[.\s]+|[.\s]+$/g, '');
  if (clean === '') return fallback;
  if (clean.length <= SOURCE_LIMITS.nameCharacters) return clean;
  const dot = clean.lastIndexOf('.');
  const ending = dot > 0 && clean.length - dot <= 10 ? clean.slice(dot) : '';
  return clean.slice(0, SOURCE_LIMITS.nameCharacters - ending.length) + ending;
}
