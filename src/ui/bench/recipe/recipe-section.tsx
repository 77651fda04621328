'use client';
import type { ComponentType } from 'react';
import type { ShotSide } from '../../../core/film/composition';
import type { RecipeName, SettingsByKind } from '../../../core/film/recipe-settings';
import type { PlacedJoin } from '../../../core/film/timing';
import { settingsOf } from '../../../core/recipes/kinds';
import { FeatureSection } from './feature-section';
import { MeltSection } from './melt-section';
import { SettingsSection } from './settings-section';

export interface RecipeProps {
  readonly placed: PlacedJoin;
  /** The film frame one stands on. */
  readonly frame: number;
  readonly onGoTo: (frame: number) => void;
  /** Opens a matte where it is drawn. */
  readonly onOpen: (matteId: string, side: ShotSide) => void;
  readonly onView: (view: ShotSide) => void;
}

/** Kinds whose settings have rows of their own; all others are set as their fields say. */
const OWN: { readonly [K in RecipeName]?: ComponentType<RecipeProps & { readonly settings: SettingsByKind[K] }> } = {
  melt: MeltSection,
  'feature morph': FeatureSection,
};

/** What the join's recipe takes, its few settings, and what it came to. */
export function RecipeSection(props: RecipeProps) {
  const { recipe, id } = props.placed.join;
  if (recipe === undefined) return null;
  const Own = OWN[recipe.kind] as ComponentType<RecipeProps & { readonly settings: unknown }> | undefined;
  if (Own !== undefined) return <Own {...props} settings={recipe.settings} />;
  return <SettingsSection key={id} {...props} kind={recipe.kind} settings={settingsOf(recipe)} />;
}
