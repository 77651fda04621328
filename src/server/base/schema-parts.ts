import Joi from 'joi';

/** What several schemas are made of. */

/** A schema for each field of a type, all of them and no other: the compiler holds schema and type together. */
type Shape<T> = { readonly [Field in keyof Required<T>]: Joi.Schema };
export const shaped = <T>(fields: Shape<T>): Joi.ObjectSchema<T> => Joi.object<T>(fields);

export const id = Joi.string().pattern(/^[\w-]{1,64}$/);
export const name = Joi.string().trim().min(1).max(200);
export const number = Joi.number().min(-1e7).max(1e7);
export const frame = Joi.number().integer().min(-1e7).max(1e7);
const whole = Joi.number().integer().positive().max(1e9);
export const rate = Joi.object({ numerator: whole.required(), denominator: whole.required() });

export const share = Joi.number().min(0).max(1).required();
export const byte = Joi.number().min(0).max(255).required();
export const colour = Joi.array().ordered(byte, byte, byte).length(3);
