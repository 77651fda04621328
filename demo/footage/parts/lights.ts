import * as THREE from 'three';

type Place = readonly [x: number, y: number, z: number];

/** How soft a light's shadows are, and what keeps surfaces from shadowing themselves (three.js's units). */
export interface ShadowStyle {
  readonly radius: number;
  readonly bias: number;
  readonly normalBias: number;
}

/** Puts `light` to a place, points it, and lets it throw soft shadows. Its target goes into the scene with it. */
export function keyLight(light: THREE.SpotLight, from: Place, towards: Place, shadow: ShadowStyle): THREE.SpotLight {
  light.position.set(...from);
  light.target.position.set(...towards);
  light.castShadow = true;
  light.shadow.mapSize.set(1024, 1024);
  light.shadow.radius = shadow.radius;
  light.shadow.bias = shadow.bias;
  light.shadow.normalBias = shadow.normalBias;
  return light;
}
