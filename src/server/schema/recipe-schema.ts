import Joi from 'joi';
import { BORDERS, MELT_QUALITIES, type LinePair } from '../../core/film/composition';
import {
  GROUNDS_BEHIND,
  type FeatureSettings,
  type MeltSettings,
  type Pin,
  type RecipeName,
  type WipeSettings,
  type ZoomSettings,
} from '../../core/film/recipe-settings';
import { EASE_NAMES } from '../../core/motion/eases';
import { COMPOSED, composedKind, type ComposedName } from '../../core/recipes/composed';
import type { ComposedKind } from '../../core/recipes/composed-kind';
import type { Field } from '../../core/recipes/recipe';
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
const wipeSettings = shaped<WipeSettings>({ followsHole: Joi.boolean().required() });
const zoomSettings = shaped<ZoomSettings>({
  matteId: id.allow(null).required(),
  piece: Joi.string().valid('fades', 'slides', 'stays').required(),
  slideDegrees: number.required(),
  slidePx: number.required(),
  slidesBefore: Joi.number().integer().min(0).max(10_000),
  entering: Joi.string().valid('grows', 'waits', 'pushes on').required(),
  room: Joi.number().min(0).max(1).required(),
  copies: Joi.number().integer().min(0).max(50).required(),
  copyDelay: Joi.number().integer().min(1).max(1000).required(),
  startsAfter: Joi.number().integer().min(0).max(10_000).required(),
  holdsEntering: Joi.boolean().required(),
  ease: Joi.string()
    .valid(...EASE_NAMES)
    .required(),
  motionBlur: Joi.boolean().required(),
  mirroredEdge: Joi.boolean().required(),
  goesOn: Joi.boolean().required(),
});
const meltSettings = shaped<MeltSettings>({
  matteId: id.allow(null).required(),
  quality: meltQuality,
  ease: Joi.string()
    .valid(...EASE_NAMES)
    .required(),
});
const featureSettings = shaped<FeatureSettings>({
  pairs: linePairs,
  borders,
  quality: meltQuality,
  ease: Joi.string()
    .valid(...EASE_NAMES)
    .required(),
  subjects: Joi.object({ leaving: id.allow(null).required(), entering: id.allow(null).required() }).required(),
  ground: Joi.string()
    .valid(...GROUNDS_BEHIND)
    .required(),
  groundMediumId: id.allow(null).required(),
});
/** Settings whose every one has a field: each is as its field takes it. */
function settingsOf<S>({ fields }: ComposedKind<S>): Joi.ObjectSchema {
  return Joi.object(Object.fromEntries(fields.map((f) => [f.name, valueOf(f)])));
}

function valueOf<S>(field: Field<S>): Joi.Schema {
  switch (field.kind) {
    case 'choice':
      return Joi.valid(...field.options).required();
    case 'switch':
      return Joi.boolean().required();
    case 'number':
      return Joi.number()
        .min(field.min / (field.factor ?? 1))
        .max(field.max / (field.factor ?? 1))
        .required();
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
  }
}

const recipeOf = (kind: RecipeName, settings: Joi.Schema): Joi.ObjectSchema =>
  Joi.object({ kind: Joi.string().valid(kind).required(), settings: settings.required(), made, overlapByHand: Joi.valid(true) });

/** Settings that have a row of their own are told here; all others by their fields. */
const TOLD: Partial<Record<RecipeName, Joi.Schema>> = {
  'wipe past': wipeSettings,
  'zoom through': zoomSettings,
  melt: meltSettings,
  'feature morph': featureSettings,
};

export const recipe = Joi.alternatives(
  ...Object.entries(TOLD).map(([kind, settings]) => recipeOf(kind as RecipeName, settings)),
  ...(Object.keys(COMPOSED) as ComposedName[])
    .filter((kind) => TOLD[kind] === undefined)
    .map((kind) => recipeOf(kind, settingsOf(composedKind(kind)))),
);
