import Joi from 'joi';
import type { Film } from '../../core/film/film';
import type { Edit } from '../../core/film/history';
import {
  JOB_KINDS,
  MOST_PAIRED,
  type CarryOrder,
  type FindEdgeOrder,
  type FollowOrder,
  type JobKind,
  type MatteSendOrder,
  type PairOrder,
  type PairSpan,
  type SendOrder,
  type SmoothOrder,
} from '../../core/film/job';
import { LIMITS } from '../../core/film/limits';
import type { Strokes } from '../../core/matte/cut/strokes';
import { strokeBox, strokeList } from '../schema/film-schema';
import type { FoundPlace } from '../../core/film/media-facts';
import { frame, id, name, rate, share } from '../base/schema-parts';

const patch = Joi.object({
  op: Joi.string().valid('add', 'remove', 'replace').required(),
  path: Joi.array().items(Joi.string(), Joi.number()).required(),
  value: Joi.any(),
});
const patches = Joi.array().items(patch).max(LIMITS.patches).required();
const edit = Joi.object({
  name: name.required(),
  kind: Joi.string().valid('edit', 'undo', 'redo').required(),
  target: Joi.number()
    .integer()
    .min(1)
    .required()
    .when('kind', { is: 'edit', then: Joi.valid(null) }),
  patches,
  // the server makes its own
  inverse: Joi.array(),
});

export const editBody = Joi.object<{ base: number; edit: Edit; id: string }>({
  base: Joi.number().integer().min(0).required(),
  edit: edit.required(),
  id: id.required(),
});
/** Names the window that a request comes from. */
export const windowSchema = id.allow(null).required();
export const newFilmBody = Joi.object<{ name: string; width: number; height: number; rate: Film['rate'] }>({
  name: name.required(),
  width: Joi.number().integer().min(16).max(8192).default(1280),
  height: Joi.number().integer().min(16).max(8192).default(720),
  rate: rate.default({ numerator: 24, denominator: 1 }),
});
/** What is done to a film as a whole. */
export type FilmOrder =
  { readonly do: 'rename' | 'duplicate'; readonly name: string } | { readonly do: 'delete' | 'bring back' | 'delete for good' };
export const filmBody = Joi.alternatives<FilmOrder>(
  Joi.object({ do: Joi.string().valid('rename', 'duplicate').required(), name: name.required() }),
  Joi.object({ do: Joi.string().valid('delete', 'bring back', 'delete for good').required() }),
);
export type VersionOrder =
  | { readonly do: 'keep'; readonly name: string; readonly isByItself?: boolean }
  | { readonly do: 'open'; readonly id: string; readonly name: string }
  | { readonly do: 'delete'; readonly id: string };
export const versionBody = Joi.alternatives<VersionOrder>(
  Joi.object({ do: Joi.string().valid('keep').required(), name: name.required(), isByItself: Joi.boolean() }),
  Joi.object({ do: Joi.string().valid('open').required(), id: id.required(), name: name.required() }),
  Joi.object({ do: Joi.string().valid('delete').required(), id: id.required() }),
);
export const sendBody = Joi.object<SendOrder>({
  format: Joi.string().valid('webm', 'mp4', 'wav').required(),
  joinId: id.allow(null).required(),
  handles: Joi.number().integer().min(0).max(10_000).required(),
  after: Joi.array().items(id).max(100),
});
export const matteSendBody = Joi.object<MatteSendOrder>({
  matteId: id.required(),
  format: Joi.string().valid('png', 'grey', 'alpha webm', 'alpha mov', 'alpha mkv').required(),
  first: frame.min(0).required(),
  last: frame.min(0).required(),
});
/** Keep and drop paint on one picture. */
export const strokesSchema = Joi.object<Strokes>({
  keep: strokeList.default([]),
  drop: strokeList.default([]),
  hair: strokeList,
  box: strokeBox,
}).required();
export const carryBody = Joi.object<CarryOrder>({ matteId: id.required(), from: frame.min(0).required(), to: frame.min(0).required() });
export const smoothBody = Joi.object<SmoothOrder>({
  matteId: id.required(),
  first: frame.min(0).required(),
  last: frame.min(0).required(),
  strength: share,
});
export const followBody = Joi.object<FollowOrder>({
  trackId: id.required(),
  first: frame.min(0).required(),
  last: frame.min(0).required(),
});
export const findEdgeBody = Joi.object<FindEdgeOrder>({
  matteId: id.required(),
  first: frame.min(0).required(),
  last: frame.min(0).required(),
});
const pairSpan = Joi.object<PairSpan>({
  mediumId: id.required(),
  first: frame.min(0).required(),
  count: Joi.number().integer().min(1).max(MOST_PAIRED).required(),
  step: Joi.number().integer().min(1).max(1000).required(),
}).required();
export const pairBody = Joi.object<PairOrder>({ a: pairSpan, b: pairSpan });
export const findBeatsBody = Joi.object<{ mediumId: string }>({ mediumId: id.required() });
/** What happens to the stored frames of a matte. */
export type MatteFramesOrder =
  | { readonly do: 'settle' | 'open' | 'forget carried' }
  | { readonly do: 'remove' | 'restore'; readonly frame: number }
  | { readonly do: 'copy'; readonly to: string };
export const matteFramesBody = Joi.alternatives<MatteFramesOrder>(
  Joi.object({ do: Joi.string().valid('settle', 'open', 'forget carried').required() }),
  Joi.object({ do: Joi.string().valid('remove', 'restore').required(), frame: frame.min(0).required() }),
  Joi.object({ do: Joi.string().valid('copy').required(), to: id.required() }),
).required();
/** What comes with the coverage of a painted frame, all as text in the query. */
export const paintedFrameQuery = Joi.object<{ width: number; height: number; madeFrom: string }>({
  width: Joi.number().integer().min(1).max(8192).required(),
  height: Joi.number().integer().min(1).max(8192).required(),
  madeFrom: Joi.string().max(64).required(),
});
export const bringInQuery = Joi.object<{ first: number }>({ first: Joi.number().integer().min(0).max(1e7).required() });
export const frameSchema = frame.min(0).required();
export const jobKindSchema = Joi.string<JobKind>()
  .valid(...JOB_KINDS)
  .required();
/** Something found in the data folder, and what becomes of it. */
export type FoundOrder =
  | { readonly do: 'take in'; readonly place: FoundPlace; readonly entry: string; readonly filmId: string }
  | { readonly do: 'move aside'; readonly place: FoundPlace; readonly entry: string };
const found = { place: Joi.string().valid('media', 'exports', 'incoming').required(), entry: Joi.string().max(300).required() };
export const foundBody = Joi.alternatives<FoundOrder>(
  Joi.object({ do: Joi.string().valid('take in').required(), ...found, filmId: id.required() }),
  Joi.object({ do: Joi.string().valid('move aside').required(), ...found }),
).required();
export const idSchema = id.required();
/** A time in ms. */
/** Film frames. */
export const handlesSchema = Joi.number().integer().min(0).max(10_000).required();
/** 'n/d', from one to 1,000 a second. */
export const rateTextSchema = Joi.string()
  .pattern(/^[1-9]\d{0,8}\/[1-9]\d{0,8}$/)
  .required();
export const chosenAtSchema = Joi.number().integer().min(0).max(1e14).required();
