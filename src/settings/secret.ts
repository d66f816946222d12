import { createCipheriv, createDecipheriv, createHmac, randomBytes, timingSafeEqual } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';

/** Seals secrets with a key file that only the program's user can read (AES-256-GCM, NIST SP 800-38D). */
export interface SecretBox {
  seal(text: string): Buffer;
  /** Throws when the secret was sealed with another key file. */
  open(sealed: Buffer): string;
  /** Shows that a text is from here (HMAC-SHA-256, RFC 2104), in base64url. */
  proof(text: string): string;
  /** Whether a proof that came from outside is that of the text; takes as long for a wrong one as for the right one. */
  proves(proof: string, text: string): boolean;
}

const IV_BYTES = 12;
const TAG_BYTES = 16;

export function openSecretBox(dataFolder: string): SecretBox {
  const file = path.join(dataFolder, 'secret.key');
  if (!existsSync(file)) {
    mkdirSync(dataFolder, { recursive: true });
    try {
      writeFileSync(file, randomBytes(32), { mode: 0o600, flag: 'wx' });
    } catch (error) {
      // Another process of the same start made it in the meantime.
      if ((error as { code?: string }).code !== 'EEXIST') throw error;
    }
  }
  const key = readFileSync(file);
  const proof = (text: string): string => createHmac('sha256', key).update(text).digest('base64url');
  return {
    proof,
    proves(given, text) {
      const [one, other] = [Buffer.from(given), Buffer.from(proof(text))];
      return one.length === other.length && timingSafeEqual(one, other);
    },
    seal(text) {
      const iv = randomBytes(IV_BYTES);
      const cipher = createCipheriv('aes-256-gcm', key, iv);
      return Buffer.concat([iv, cipher.update(text, 'utf8'), cipher.final(), cipher.getAuthTag()]);
    },
    open(sealed) {
      const decipher = createDecipheriv('aes-256-gcm', key, sealed.subarray(0, IV_BYTES));
      decipher.setAuthTag(sealed.subarray(-TAG_BYTES));
      try {
        return Buffer.concat([decipher.update(sealed.subarray(IV_BYTES, -TAG_BYTES)), decipher.final()]).toString('utf8');
      } catch (error) {
        throw new Error(`A kept secret cannot be opened: ${file} is not the key it was sealed with. Put the old key file back or enter the secret again.`, { cause: error });
      }
    },
  };
}
