import * as THREE from 'three';
import { seededRandom } from './noise';
import { put, slab, turned } from './shapes';
import { brass, materialOf, paint, wood } from './surfaces';

const WHEEL_RADIUS = 0.36;

export interface Lantern {
  /** Hangs from the origin, 0.34 m tall. */
  readonly body: THREE.Group;
  readonly light: THREE.PointLight;
}

/** A square tin lantern with four lit panes. */
export function makeLantern(strength: number): Lantern {
  const body = new THREE.Group();
  const tin = materialOf(paint(103, [0.13, 0.12, 0.11], [0.4, 0.3, 0.2], 0.5), 0.5, 0.5, { metalness: 0.6 });
  put(
    body,
    turned(
      [
        [0.001, 0.0],
        [0.03, -0.008],
        [0.035, -0.02],
        [0.1, -0.085],
        [0.1, -0.095],
        [0.001, -0.09],
      ],
      4,
    ),
    tin,
  ).rotation.y = Math.PI / 4;
  put(body, slab(0.15, 0.03, 0.15), tin, 0, -0.325, 0);
  for (const x of [-1, 1]) for (const z of [-1, 1]) put(body, slab(0.012, 0.24, 0.012, 0.002), tin, x * 0.062, -0.205, z * 0.062);
  for (let side = 0; side < 4; side++) {
    const pane = new THREE.Group();
    pane.rotation.y = (side * Math.PI) / 2;
    put(pane, slab(0.006, 0.23, 0.006, 0.001), tin, 0, -0.205, 0.06);
    put(pane, slab(0.11, 0.006, 0.006, 0.001), tin, 0, -0.2, 0.06);
    body.add(pane);
  }
  const flame = turned(
    [
      [0.001, -0.028],
      [0.014, -0.02],
      [0.018, -0.005],
      [0.012, 0.02],
      [0.001, 0.05],
    ],
    24,
  );
  put(body, flame, new THREE.MeshBasicMaterial({ color: new THREE.Color(7 * strength, 4 * strength, 1.5 * strength) }), 0, -0.22, 0);
  put(
    body,
    new THREE.CylinderGeometry(0.022, 0.024, 0.07, 20),
    new THREE.MeshStandardMaterial({ color: 0xe8dcc0, roughness: 0.7, emissive: 0x8a4a18, emissiveIntensity: 0.7 }),
    0,
    -0.28,
    0,
  );
  put(
    body,
    new THREE.BoxGeometry(0.115, 0.225, 0.115),
    new THREE.MeshBasicMaterial({
      color: new THREE.Color(1.1 * strength, 0.6 * strength, 0.22 * strength),
      transparent: true,
      opacity: 0.42,
      depthWrite: false,
    }),
    0,
    -0.205,
    0,
  );
  put(body, new THREE.TorusGeometry(0.05, 0.006, 8, 32), tin, 0, 0.04, 0);
  const light = new THREE.PointLight(0xffa552, 2.2 * strength, 5, 1.7);
  light.position.y = -0.2;
  body.add(light);
  return { body, light };
}

function wheel(timber: THREE.Material, iron: THREE.Material): THREE.Group {
  const one = new THREE.Group();
  put(one, new THREE.TorusGeometry(WHEEL_RADIUS - 0.03, 0.027, 12, 64), timber);
  put(one, new THREE.TorusGeometry(WHEEL_RADIUS - 0.004, 0.011, 8, 64), iron).scale.z = 2.2;
  put(one, new THREE.CylinderGeometry(0.06, 0.06, 0.13, 24), timber).rotation.x = Math.PI / 2;
  put(one, new THREE.CylinderGeometry(0.025, 0.025, 0.17, 16), iron).rotation.x = Math.PI / 2;
  for (let i = 0; i < 8; i++) {
    const spoke = put(one, new THREE.CylinderGeometry(0.013, 0.017, WHEEL_RADIUS - 0.07, 10), timber);
    const angle = (i * Math.PI) / 4;
    spoke.position.set(-Math.sin(angle) * 0.19, Math.cos(angle) * 0.19, 0);
    spoke.rotation.z = angle;
  }
  return one;
}

export interface Cart {
  /** Stands on y = 0; the handles point to +x. */
  readonly body: THREE.Group;
  /** Puts the cart to `x`, wheels turned to match, its load rocked by `rock` radians. */
  roll(x: number, rock: number): void;
  readonly tube: THREE.Object3D;
}

/** A two-wheeled handcart that carries a telescope tube, a crate and a lit lantern; 1.5 m long. */
export function makeCart(): Cart {
  const body = new THREE.Group();
  const timber = wood(111, [0.44, 0.28, 0.16], [0.24, 0.14, 0.08]);
  const planks = materialOf(timber, 1, 0.3);
  const iron = new THREE.MeshStandardMaterial({ color: 0x2a2826, roughness: 0.5, metalness: 0.7 });
  const load = new THREE.Group();
  load.position.y = WHEEL_RADIUS;
  body.add(load);
  for (let i = 0; i < 4; i++) put(load, slab(1.24, 0.03, 0.145, 0.006), planks, 0, 0.13, -0.24 + 0.16 * i);
  for (const z of [-0.3, 0.3]) {
    put(load, slab(1.26, 0.1, 0.028, 0.006), planks, 0, 0.2, z);
    put(load, slab(2.0, 0.05, 0.045, 0.012), planks, 0.4, 0.095, z * 0.8);
    for (const x of [-0.55, 0, 0.55]) put(load, slab(0.05, 0.24, 0.04, 0.008), planks, x, 0.2, z);
  }
  put(load, new THREE.CylinderGeometry(0.02, 0.02, 0.76, 16), iron).rotation.x = Math.PI / 2;
  put(load, slab(0.04, 0.42, 0.04), planks, 0.62, -0.1, 0.2); // the stand it rests on
  put(load, slab(0.04, 0.42, 0.04), planks, 0.62, -0.1, -0.2);
  const wheels = [-0.37, 0.37].map((z) => {
    const one = wheel(materialOf(timber, 1, 0.2), iron);
    one.position.set(0, WHEEL_RADIUS, z);
    body.add(one);
    return one;
  });
  // the telescope tube on two saddles
  const telescope = new THREE.Group();
  const lacquer = materialOf(paint(113, [0.07, 0.15, 0.14], [0.45, 0.33, 0.17], 0.72), 0.6, 0.5);
  const gold = materialOf(brass(115), 2, 1, { metalness: 0.9 });
  const along = put(
    telescope,
    turned(
      [
        [0.115, -0.78],
        [0.13, -0.78],
        [0.13, 0.5],
        [0.11, 0.52],
        [0.11, 0.62],
        [0.07, 0.66],
        [0.07, 0.78],
        [0.05, 0.8],
        [0.05, 0.9],
      ],
      56,
    ),
    lacquer,
  );
  const rings = put(
    telescope,
    turned(
      [
        [0.13, -0.8],
        [0.143, -0.795],
        [0.143, -0.73],
        [0.131, -0.72],
      ],
      56,
    ),
    gold,
  );
  const second = put(
    telescope,
    turned(
      [
        [0.13, 0.0],
        [0.138, 0.005],
        [0.138, 0.06],
        [0.13, 0.065],
      ],
      56,
    ),
    gold,
  );
  const third = put(
    telescope,
    turned(
      [
        [0.112, 0.5],
        [0.12, 0.52],
        [0.12, 0.6],
        [0.075, 0.66],
        [0.078, 0.76],
        [0.054, 0.8],
        [0.054, 0.92],
        [0.035, 0.93],
        [0.001, 0.93],
      ],
      56,
    ),
    gold,
  );
  const mouth = put(
    telescope,
    new THREE.CircleGeometry(0.118, 48),
    new THREE.MeshPhysicalMaterial({ color: 0x0a1420, roughness: 0.08, clearcoat: 1 }),
    -0.0,
    -0.76,
    0,
  );
  mouth.rotation.x = Math.PI / 2;
  for (const part of [along, rings, second, third, mouth]) part.updateMatrix();
  telescope.rotation.z = -Math.PI / 2 - 0.2;
  telescope.position.set(0.05, 0.46, -0.05);
  load.add(telescope);
  put(load, slab(0.09, 0.28, 0.3), planks, -0.36, 0.25, -0.05);
  put(load, slab(0.09, 0.14, 0.3), planks, 0.4, 0.2, -0.05);
  const canvas = materialOf(paint(117, [0.5, 0.43, 0.32], [0.4, 0.33, 0.25], 0.1), 0.4, 0.4);
  const roll = put(
    load,
    turned(
      [
        [0.001, -0.26],
        [0.07, -0.26],
        [0.083, -0.2],
        [0.08, 0.2],
        [0.07, 0.26],
        [0.001, 0.26],
      ],
      30,
    ),
    canvas,
    0.16,
    0.23,
    0.2,
  );
  roll.rotation.z = Math.PI / 2;
  const random = seededRandom(119);
  const crate = new THREE.Group();
  crate.position.set(-0.42, 0.15, 0.17);
  crate.rotation.y = 0.12;
  for (let i = 0; i < 4; i++) put(crate, slab(0.3, 0.05, 0.2, 0.004), planks, 0.004 * (random() - 0.5), 0.03 + 0.058 * i, 0);
  load.add(crate);
  const lantern = makeLantern(1);
  lantern.body.position.set(-0.56, 0.05, 0.36);
  lantern.body.scale.setScalar(0.72);
  load.add(lantern.body);
  return {
    body,
    tube: telescope,
    roll(x, rock) {
      body.position.x = x;
      load.rotation.z = rock;
      for (const one of wheels) one.rotation.z = -x / WHEEL_RADIUS;
      lantern.body.rotation.z = -4 * rock;
    },
  };
}
