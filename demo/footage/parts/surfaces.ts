import * as THREE from 'three';
import { fractal, tileNoise } from './noise';

interface Texel {
  readonly colour: readonly [number, number, number];
  readonly height: number;
  readonly rough: number;
}

/** Colour, normal and roughness maps painted from one function of u, v in 0..1. */
export interface Surface {
  readonly map: THREE.Texture;
  readonly normalMap: THREE.Texture;
  readonly roughnessMap: THREE.Texture;
}

const byte = (v: number): number => Math.max(0, Math.min(255, Math.round(v * 255)));

function textureOf(size: number, data: Uint8Array<ArrayBuffer>, colour: boolean): THREE.Texture {
  const texture = new THREE.DataTexture(data, size, size, THREE.RGBAFormat);
  texture.wrapS = texture.wrapT = THREE.RepeatWrapping;
  texture.magFilter = THREE.LinearFilter;
  texture.minFilter = THREE.LinearMipmapLinearFilter;
  texture.generateMipmaps = true;
  texture.anisotropy = 2;
  if (colour) texture.colorSpace = THREE.SRGBColorSpace;
  texture.needsUpdate = true;
  return texture;
}

function paintSurface(size: number, relief: number, paint: (u: number, v: number) => Texel): Surface {
  const map = new Uint8Array(size * size * 4);
  const rough = new Uint8Array(size * size * 4);
  const heights = new Float32Array(size * size);
  for (let y = 0, i = 0; y < size; y++) {
    for (let x = 0; x < size; x++, i++) {
      const texel = paint(x / size, y / size);
      heights[i] = texel.height;
      map.set([byte(texel.colour[0]), byte(texel.colour[1]), byte(texel.colour[2]), 255], 4 * i);
      rough.set([255, byte(texel.rough), 0, 255], 4 * i);
    }
  }
  const normals = new Uint8Array(size * size * 4);
  const at = (x: number, y: number): number => heights[((y + size) % size) * size + ((x + size) % size)]!;
  for (let y = 0, i = 0; y < size; y++) {
    for (let x = 0; x < size; x++, i++) {
      const dx = (at(x - 1, y) - at(x + 1, y)) * relief;
      const dy = (at(x, y - 1) - at(x, y + 1)) * relief;
      const length = Math.sqrt(dx * dx + dy * dy + 1);
      normals.set([byte(0.5 + dx / length / 2), byte(0.5 + dy / length / 2), byte(0.5 + 0.5 / length), 255], 4 * i);
    }
  }
  return { map: textureOf(size, map, true), normalMap: textureOf(size, normals, false), roughnessMap: textureOf(size, rough, false) };
}

type Rgb = readonly [number, number, number];
const mix = (a: Rgb, b: Rgb, t: number): Rgb => [a[0] + (b[0] - a[0]) * t, a[1] + (b[1] - a[1]) * t, a[2] + (b[2] - a[2]) * t];
const smooth = (a: number, b: number, v: number): number => {
  const t = Math.max(0, Math.min(1, (v - a) / (b - a)));
  return t * t * (3 - 2 * t);
};

export function wood(seed: number, light: Rgb, dark: Rgb): Surface {
  return paintSurface(512, 6, (u, v) => {
    const bend = fractal(u, v, 3, 3, seed) * 0.35;
    const rings = 0.5 + 0.5 * Math.sin((v * 9 + bend * 6 + tileNoise(u * 2, v * 8, 8, seed + 3)) * Math.PI * 2);
    const pores = fractal(u * 0.25, v, 64, 3, seed + 7);
    const fibre = fractal(u / 16, v, 128, 2, seed + 9);
    const wear = smooth(0.52, 0.75, fractal(u, v, 5, 4, seed + 11));
    const colour = mix(mix(dark, light, 0.55 * rings + 0.45 * fibre), [0.16, 0.11, 0.08], 0.4 * smooth(0.6, 0.8, pores));
    return { colour: mix(colour, light, 0.25 * wear), height: 0.4 * fibre - 0.4 * pores, rough: 0.5 + 0.3 * pores - 0.2 * wear };
  });
}

export function plaster(seed: number, base: Rgb): Surface {
  return paintSurface(512, 5, (u, v) => {
    const broad = fractal(u, v, 3, 5, seed);
    const fine = fractal(u, v, 48, 3, seed + 5);
    const crack = smooth(0.006, 0.0, Math.abs(fractal(u, v, 4, 5, seed + 9) - 0.5)) * smooth(0.5, 0.62, fractal(u, v, 3, 3, seed + 17));
    const stain = smooth(0.45, 0.8, fractal(u, v * 0.25, 4, 5, seed + 13));
    const bare = smooth(0.63, 0.66, broad);
    const colour = mix(mix(base, [base[0] * 0.55, base[1] * 0.5, base[2] * 0.48], stain), [0.46, 0.3, 0.23], 0.4 * bare);
    return {
      colour: mix(colour, [0.12, 0.1, 0.09], 0.45 * crack),
      height: 0.5 * fine + 0.5 * broad - 0.35 * bare - 0.6 * crack,
      rough: 0.85 + 0.1 * fine,
    };
  });
}

/** Rows of rounded setts, wet between and worn on top. */
export function cobbles(seed: number): Surface {
  const rows = 12;
  return paintSurface(1024, 9, (u, v) => {
    const warp = 0.16 * (fractal(u, v, 6, 3, seed) - 0.5);
    const y = v * rows + warp;
    const row = Math.floor(y);
    const x = u * 8 + (row % 2) * 0.5 + warp * 2;
    const cell = Math.floor(x);
    const shade = tileNoise(cell % 8, ((row % rows) + rows) % rows, 96, seed + 3);
    const dx = 2 * Math.abs(x - cell - 0.5);
    const dy = 2 * Math.abs(y - row - 0.5);
    const edge = Math.pow(Math.pow(dx, 5) + Math.pow(dy, 5), 1 / 5);
    const dome = 1 - smooth(0.55, 1, edge);
    const grit = fractal(u, v, 96, 3, seed + 7);
    const puddle = smooth(0.5, 0.62, fractal(u, v, 3, 4, seed + 21));
    const stone = mix([0.21, 0.2, 0.2], [0.33, 0.3, 0.28], shade * 0.7 + grit * 0.3);
    return {
      colour: mix(mix([0.06, 0.055, 0.055], stone, 0.15 + 0.85 * dome), [0.07, 0.07, 0.075], 0.45 * puddle),
      height: (1.1 * dome + 0.25 * grit + 0.2 * shade) * (1 - 0.6 * puddle),
      rough: 0.75 - 0.4 * dome * (0.4 + 0.6 * shade) - 0.34 * puddle,
    };
  });
}

/** Paint over metal or wood, dulled, with chips that show `under`. */
export function paint(seed: number, base: Rgb, under: Rgb, gloss: number): Surface {
  return paintSurface(512, 4, (u, v) => {
    const broad = fractal(u, v, 4, 5, seed);
    const brush = fractal(u, v / 24, 96, 2, seed + 5);
    const chip = smooth(0.7, 0.73, fractal(u, v, 9, 5, seed + 9));
    const dust = smooth(0.4, 0.85, fractal(u, v, 3, 4, seed + 15));
    const colour = mix(mix(base, [base[0] * 0.6, base[1] * 0.6, base[2] * 0.6], broad), [0.4, 0.37, 0.33], 0.12 * dust);
    return {
      colour: mix(colour, under, chip),
      height: 0.25 * brush + 0.2 * broad - 0.8 * chip,
      rough: 1 - gloss + 0.25 * dust + 0.15 * brush + 0.3 * chip,
    };
  });
}

export function brass(seed: number): Surface {
  return paintSurface(512, 2, (u, v) => {
    const tarnish = smooth(0.42, 0.8, fractal(u, v, 4, 5, seed));
    const scratch = fractal(u / 24, v, 160, 2, seed + 5);
    const base = mix([0.86, 0.62, 0.28], [0.42, 0.27, 0.12], tarnish);
    return { colour: mix(base, [0.95, 0.78, 0.46], 0.25 * scratch), height: 0.3 * scratch, rough: 0.22 + 0.35 * tarnish + 0.12 * scratch };
  });
}

/** A standard material over `surface`, its maps repeated `across` × `down` times. */
export function materialOf(
  surface: Surface,
  across = 1,
  down = 1,
  extra: THREE.MeshStandardMaterialParameters = {},
): THREE.MeshStandardMaterial {
  const repeat = (texture: THREE.Texture): THREE.Texture => {
    const copy = texture.clone();
    copy.repeat.set(across, down);
    copy.needsUpdate = true;
    return copy;
  };
  return new THREE.MeshStandardMaterial({
    map: repeat(surface.map),
    normalMap: repeat(surface.normalMap),
    roughnessMap: repeat(surface.roughnessMap),
    roughness: 1,
    ...extra,
  });
}

/** The same material with its grain turned to run up instead of across. */
export function upright(material: THREE.MeshStandardMaterial): THREE.MeshStandardMaterial {
  for (const texture of [material.map, material.normalMap, material.roughnessMap]) if (texture !== null) texture.rotation = Math.PI / 2;
  return material;
}

/** Woven cloth, worn lighter in places. */
export function cloth(seed: number, base: Rgb): Surface {
  return paintSurface(512, 3, (u, v) => {
    const warp = Math.sin(u * 512 * 0.8) * Math.sin(v * 512 * 0.8 + Math.PI * Math.floor(u * 65));
    const broad = fractal(u, v, 4, 5, seed);
    const lint = fractal(u, v, 96, 2, seed + 5);
    const worn = smooth(0.5, 0.8, fractal(u, v, 5, 4, seed + 9));
    const tone = 0.72 + 0.3 * broad + 0.1 * warp + 0.14 * (lint - 0.5) + 0.2 * worn;
    return { colour: [base[0] * tone, base[1] * tone, base[2] * tone], height: 0.35 * warp + 0.3 * lint, rough: 0.9 + 0.08 * lint };
  });
}
