import Joi from 'joi';
import nodemailer from 'nodemailer';
import { StepFailure } from '@/core/resilience/failure';
import type { Connector } from '../connection';

export interface MailSettings {
  readonly host: string;
  readonly port: number;
  readonly secure: boolean;
  readonly user: string;
  /** Address that mails come from. */
  readonly from: string;
}

export interface OutgoingMail {
  readonly to: string;
  readonly subject: string;
  readonly text: string;
  readonly id: string;
  readonly attachment: { readonly name: string; readonly bytes: Buffer } | null;
}

const DEADLINE_MS = 20_000;

const transport = ({ host, port, secure, user }: MailSettings, secret: string | null) =>
  nodemailer.createTransport({ host, port, secure, connectionTimeout: 5_000, greetingTimeout: 5_000, socketTimeout: DEADLINE_MS, ...(user && secret ? { auth: { user, pass: secret } } : {}), tls: { rejectUnauthorized: true } });

/** Send one mail (RFC 5321). A failure says whether the server may have taken it. */
export async function sendMail(settings: MailSettings, secret: string | null, mail: OutgoingMail, about?: string): Promise<void> {
  const { to, subject, text, id, attachment } = mail;
  const server = `${settings.host}:${settings.port}`;
  const smtp = transport(settings, secret);
  try {
    await smtp.sendMail({ from: settings.from, to, subject, text, messageId: `<${id}@leadline>`, attachments: attachment ? [{ filename: attachment.name, content: attachment.bytes }] : [], disableFileAccess: true, disableUrlAccess: true });
  } catch (error) {
    throw mailFailure(error, server, about);
  } finally {
    smtp.close();
  }
}

function mailFailure(error: unknown, server: string, about: string | undefined): StepFailure {
  const { code, responseCode, command, message } = error as { code?: string; responseCode?: number; command?: string; message: string };
  const detail = `${server}: ${message.slice(0, 200)}`;
  // An answer with a code is a refusal; without one the line broke, and after DATA nobody knows.
  const options = { cause: error, ...(responseCode !== undefined || code === 'ECONNECTION' || code === 'EDNS' || command === 'CONN' ? { untouched: true as const } : {}), ...(about === undefined ? {} : { about }) };
  if (code === 'EAUTH') return new StepFailure('no-credential', detail, options);
  if (responseCode !== undefined && responseCode >= 400 && responseCode < 500) return new StepFailure('service-busy', detail, options);
  if (responseCode !== undefined || code === 'EENVELOPE') return new StepFailure('mail-refused', detail, options);
  return new StepFailure('service-down', detail, options);
}

export const mailConnector: Connector<MailSettings> = {
  key: 'mail',
  name: 'Outgoing mail (SMTP)',
  secretName: 'Password',
  schema: Joi.object({
    host: Joi.string().hostname().required().label('Server'),
    port: Joi.number().port().default(587).label('Port'),
    secure: Joi.boolean().default(false).label('TLS from the start'),
    user: Joi.string().allow('').max(200).default('').label('User'),
    from: Joi.string().email({ tlds: false }).max(320).required().label('Mails come from'),
  }),
  async tryOut(settings, secret) {
    const smtp = transport(settings, secret);
    try {
      await smtp.verify();
      return { found: `${settings.host} takes mail from ${settings.from}.`, offers: null };
    } catch (error) {
      throw new Error(`${settings.host}:${settings.port} does not take mail from us: ${(error as Error).message}`, { cause: error });
    } finally {
      smtp.close();
    }
  },
};
