import type { Recipe, RecipeName, SettingsByKind } from '../film/recipe-settings';
import { arrive } from './arrive/arrive';
import { bridge } from './bridge/bridge';
import { cutOut } from './cut-out/cut-out';
import { dissolve } from './dissolve/dissolve';
import { dropThrough } from './drop-through/drop-through';
import { featureMorph } from './feature-morph/feature-morph';
import type { KindOfJoin } from './kind';
import { melt } from './melt/melt';
import { panels } from './panels/panels';
import { tiles } from './tiles/tiles';
import { wipePast } from './wipe-past/wipe-past';
import { zoomThrough } from './zoom-through/zoom-through';

/** Every kind of join that works, in the order it is offered. */
export const KINDS: { readonly [K in RecipeName]: KindOfJoin<SettingsByKind[K]> } = {
  'wipe past': wipePast,
  'zoom through': zoomThrough,
  arrive,
  'held cut-out': cutOut,
  'panels on the beat': panels,
  'tiles in space': tiles,
  'drop through': dropThrough,
  bridge,
  melt,
  'feature morph': featureMorph,
  dissolve,
};

export const KIND_NAMES = Object.keys(KINDS) as readonly RecipeName[];

/** Settings of whatever kind, by name. */
export type AnySettings = Record<string, unknown>;

/** A kind whatever its settings are; those of a recipe of that kind fit it. */
export const kindNamed = (kind: RecipeName): KindOfJoin<AnySettings> => KINDS[kind] as unknown as KindOfJoin<AnySettings>;

export const settingsOf = ({ settings }: Pick<Recipe, 'settings'>): AnySettings => settings as unknown as AnySettings;
