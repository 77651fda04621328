import type { Pin } from '../film/recipe-settings';

/** Settings for other shots: where one of these two lies in the other holds for them alone. */
export const withoutPin = <S extends { readonly pin: Pin | null }>(
  settings: S,
): { readonly settings: S; readonly told: readonly string[] } =>
  settings.pin === null
    ? { settings, told: [] }
    : { settings: { ...settings, pin: null }, told: ['Set again where one shot lies in the other.'] };
