import type Joi from 'joi';
import { AppError } from './errors';

/** @throws AppError 'bad-request' saying which field is wrong. Unless `convert` (for queries), '12' is not 12. */
export function parse<T>(schema: Joi.Schema<T>, value: unknown, convert = false): T {
  const result = schema.validate(value, { convert, abortEarly: true });
  if (result.error !== undefined) throw new AppError('bad-request', `Not accepted: ${result.error.message}.`);
  return result.value;
}
