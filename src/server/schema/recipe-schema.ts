import Joi from 'joi';
import { BORDERS, MELT_QUALITIES, type LinePair } from '../../core/film/composition';
import type { Pin, RecipeName } from '../../core/film/recipe-settings';
import type { Field, KindOfJoin } from '../../core/recipes/kind';
import { KIND_NAMES, kindNamed } from '../../core/recipes/kinds';
import { colour, frame, id, number, shaped } from '../base/schema-parts';

export const meltQuality = Joi.string()
  .valid(...MELT_QUALITIES)
  .required();
export const linePairs = Joi.array()
  .items(shaped<LinePair>({ leaving: id.required(), entering: id.required() }))
  .max(200)
  .required();
export const borders = Joi.string()
  .valid(...BORDERS)
  .required();
const pin = shaped<Pin>({
  x: number.required(),
  y: number.required(),
  scale: Joi.number().min(0.001).max(1000).required(),
  turn: number.required(),
});
const made = Joi.string().max(100).allow('').required();
/** Settings as their fields take them. */
function settingsOf<S>({ fields }: KindOfJoin<S>): Joi.ObjectSchema {
  return Joi.object(Object.fromEntries(fields.map((f) => [f.name, valueOf(f)])));
}

function valueOf<S>(field: Field<S>): Joi.Schema {
  switch (field.kind) {
    case 'choice':
      return Joi.valid(...field.options).required();
    case 'switch':
      return Joi.boolean().required();
    case 'number': {
      const { min, max, factor = 1, optional } = field;
      const value = Joi.number()
        .min(min / factor)
        .max(max / factor);
      return optional === true ? value : value.required();
    }
    case 'matte':
    case 'medium':
      return id.allow(null).required();
    case 'mattes':
      return Joi.array().items(id).max(field.most).required();
    case 'colour':
      return colour.required();
    case 'moment':
      return frame.min(0).allow(null);
    case 'pin':
      return pin.allow(null).required();
    case 'line pairs':
      return linePairs;
    case 'matte of each':
      return Joi.object({ leaving: id.allow(null).required(), entering: id.allow(null).required() }).required();
  }
}

const recipeOf = (kind: RecipeName, settings: Joi.Schema): Joi.ObjectSchema =>
  Joi.object({ kind: Joi.string().valid(kind).required(), settings: settings.required(), made, overlapByHand: Joi.valid(true) });

export const recipe = Joi.alternatives(...KIND_NAMES.map((kind) => recipeOf(kind, settingsOf(kindNamed(kind)))));
