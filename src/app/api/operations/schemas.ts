import Joi from 'joi';
import { RUN_STATES } from '@/store/states';

/** Building blocks of the operations' schemas. */
export const id = Joi.string().pattern(/^[0-9A-HJKMNP-TV-Z]{26}$/).description('Identifier (ULID)').messages({ 'string.pattern.base': '“{#value}” is no identifier' });
export const key = Joi.string().pattern(/^[a-z][a-z0-9-]{0,62}$/).description('Lower-case letters, figures and hyphens').messages({ 'string.pattern.base': '“{#value}” is no key: lower-case letters, figures and hyphens only' });
export const withId = Joi.object<{ id: string }>({ id: id.required() });
export const withKey = Joi.object<{ key: string }>({ key: key.required() });

export interface Paging {
  readonly offset: number;
  readonly limit: number;
}

export const paging = { offset: Joi.number().integer().min(0).max(1_000_000).default(0).description('Rows to pass over'), limit: Joi.number().integer().min(1).max(200).default(50).description('Rows at most') };
export const search = Joi.string().allow('').max(200).description('Words to find');
export const runState = Joi.string().valid(...RUN_STATES);
export const reason = Joi.string().trim().min(1).max(1000).description('In a sentence');
export const stage = Joi.string().valid('read', 'came').default('read').description('The page as it was read (upright, cleaned), or as it came');
