import type Joi from 'joi';

/** A service or database that is asked by name; its secret is kept sealed beside it. */
export interface Connector<Settings> {
  readonly key: string;
  readonly name: string;
  readonly schema: Joi.ObjectSchema<Settings>;
  readonly secretName: string;
  /** Look whether it works; a sentence for people, and what it offers, kept for choosing from. Throws a sentence when it does not. */
  tryOut(settings: Settings, secret: string | null): Promise<{ readonly found: string; readonly offers: unknown }>;
}
