import type Joi from 'joi';
import { AppError } from './errors';

/** Characters of a message: it may quote what was sent. */
const MOST_SAID = 300;

/** @throws AppError 'bad-request' saying which field is wrong. Unless `convert` (for queries), '12' is not 12. */
export function parse<T>(schema: Joi.Schema<T>, value: unknown, convert = false): T {
  const result = schema.validate(value, { convert, abortEarly: true });
  if (result.error !== undefined) {
    const { message } = result.error;
    throw new AppError('bad-request', `Not accepted: ${message.length > MOST_SAID ? `${message.slice(0, MOST_SAID)}…` : message}.`);
  }
  return result.value;
}
