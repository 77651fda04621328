import * as THREE from 'three';
import { castShadows, put, slab, tube, turned } from './shapes';
import { brass, cloth, materialOf, paint, type Surface } from './surfaces';

export type FigureKind = 'watchman' | 'baker';

export interface Figure {
  /** Stands on y = 0, about 0.62 tall, faces +z. */
  readonly body: THREE.Group;
  readonly head: THREE.Group;
  /** Hangs from its shoulder; the hand is at (0, −0.168, 0). */
  readonly leftArm: THREE.Group;
  /** Turns the head (radians to its left), the key in its back, and lifts the arms forwards (radians). */
  pose(headYaw: number, keyTurn: number, rightArm: number, leftArm: number): void;
  /** Named places on the head, in the world; the same names on every figure. */
  points(): Record<string, THREE.Vector3>;
}

type Rgb = readonly [number, number, number];
const lacquer = (seed: number, base: Rgb): Surface => paint(seed, base, [0.5, 0.38, 0.24], 0.62);

/** A painted face on a 2:1 map of the head; +z is the middle of the picture. */
function faceTexture(kind: FigureKind): THREE.Texture {
  const canvas = document.createElement('canvas');
  canvas.width = 1024;
  canvas.height = 512;
  const g = canvas.getContext('2d')!;
  g.fillStyle = kind === 'baker' ? '#e6bd97' : '#d9a67c';
  g.fillRect(0, 0, 1024, 512);
  const fine = g.createLinearGradient(0, 0, 0, 512);
  fine.addColorStop(0, 'rgba(80,30,10,0.2)');
  fine.addColorStop(0.5, 'rgba(80,30,10,0)');
  fine.addColorStop(1, 'rgba(80,30,10,0.35)');
  g.fillStyle = fine;
  g.fillRect(0, 0, 1024, 512);
  g.translate(512, 250);
  for (const side of [-1, 1]) {
    const cheek = g.createRadialGradient(side * 74, 44, 2, side * 74, 44, 36);
    cheek.addColorStop(0, 'rgba(200,60,45,0.65)');
    cheek.addColorStop(1, 'rgba(200,60,45,0)');
    g.fillStyle = cheek;
    g.fillRect(side * 74 - 40, 4, 80, 80);
    g.fillStyle = '#f5efe2';
    g.beginPath();
    g.ellipse(side * 44, -8, 17, 21, 0, 0, 7);
    g.fill();
    g.fillStyle = '#2a1a12';
    g.beginPath();
    g.ellipse(side * 44, -4, 9, 13, 0, 0, 7);
    g.fill();
    g.fillStyle = '#ffffff';
    g.beginPath();
    g.arc(side * 44 + 4, -10, 3.5, 0, 7);
    g.fill();
    g.strokeStyle = '#3a2012';
    g.lineWidth = 6;
    g.beginPath();
    g.arc(side * 46, 6, 44, kind === 'baker' ? -2.2 : -2.1, kind === 'baker' ? -0.95 : -1.05);
    g.stroke();
  }
  g.strokeStyle = '#a03428';
  g.lineWidth = 7;
  g.beginPath();
  g.arc(0, 52, 24, 0.35, Math.PI - 0.35);
  g.stroke();
  if (kind === 'watchman') {
    g.fillStyle = '#2c1a10';
    for (const side of [-1, 1]) {
      g.beginPath();
      g.moveTo(0, 48);
      g.quadraticCurveTo(side * 34, 36, side * 66, 66);
      g.quadraticCurveTo(side * 30, 64, 0, 58);
      g.fill();
    }
  }
  const texture = new THREE.CanvasTexture(canvas);
  texture.colorSpace = THREE.SRGBColorSpace;
  texture.anisotropy = 4;
  texture.wrapS = THREE.RepeatWrapping;
  texture.offset.x = 0.25; // a sphere's map begins at −x
  return texture;
}

/** A turned and painted wind-up figure with a brass key in its back. */
export function makeFigure(kind: FigureKind): Figure {
  const body = new THREE.Group();
  const watchman = kind === 'watchman';
  const coat = materialOf(lacquer(401, watchman ? [0.1, 0.16, 0.3] : [0.5, 0.12, 0.1]), 1, 0.6);
  const trim = watchman ? materialOf(lacquer(403, [0.62, 0.15, 0.1]), 1, 0.4) : materialOf(cloth(403, [0.78, 0.72, 0.6]), 1, 0.6);
  const dark = materialOf(lacquer(405, [0.1, 0.08, 0.08]), 1, 0.4);
  const gold = materialOf(brass(407), 1, 1, { metalness: 0.9 });
  const skin = new THREE.MeshPhysicalMaterial({ map: faceTexture(kind), roughness: 0.42, clearcoat: 0.5, clearcoatRoughness: 0.35 });
  const hand = new THREE.MeshStandardMaterial({ color: watchman ? 0xd9a67c : 0xe6bd97, roughness: 0.45 });
  put(
    body,
    turned(
      [
        [0.001, 0],
        [0.13, 0],
        [0.135, 0.02],
        [0.12, 0.035],
        [0.001, 0.036],
      ],
      56,
    ),
    dark,
  );
  const skirt: [number, number][] = watchman
    ? [
        [0.07, 0.036],
        [0.085, 0.05],
        [0.08, 0.17],
        [0.098, 0.19],
        [0.09, 0.26],
        [0.105, 0.34],
        [0.09, 0.395],
        [0.045, 0.415],
        [0.001, 0.42],
      ]
    : [
        [0.125, 0.036],
        [0.13, 0.06],
        [0.105, 0.17],
        [0.07, 0.245],
        [0.068, 0.26],
        [0.1, 0.34],
        [0.085, 0.395],
        [0.045, 0.415],
        [0.001, 0.42],
      ];
  put(body, turned(skirt, 64), coat);
  if (watchman) {
    put(
      body,
      turned(
        [
          [0.094, 0.2],
          [0.1, 0.205],
          [0.099, 0.228],
          [0.094, 0.232],
        ],
        64,
      ),
      trim,
    );
    for (let i = 0; i < 4; i++) put(body, new THREE.SphereGeometry(0.009, 16, 12), gold, 0, 0.25 + 0.034 * i, 0.098 + 0.0022 * i);
  } else {
    const apron = put(body, new THREE.SphereGeometry(0.125, 40, 24, 0.35, Math.PI - 0.7, 1.1, 1.4), trim, 0, 0.15, 0.016);
    apron.scale.set(0.95, 1.05, 0.95);
    put(
      body,
      turned(
        [
          [0.066, 0.245],
          [0.074, 0.25],
          [0.073, 0.268],
          [0.066, 0.272],
        ],
        64,
      ),
      trim,
    );
  }
  put(
    body,
    turned(
      [
        [0.04, 0.41],
        [0.062, 0.415],
        [0.058, 0.432],
        [0.035, 0.44],
      ],
      48,
    ),
    trim,
  );
  const head = new THREE.Group();
  head.position.y = 0.5;
  body.add(head);
  put(head, new THREE.SphereGeometry(0.082, 64, 48), skin).scale.set(1, 1.08, 1);
  put(head, new THREE.SphereGeometry(0.015, 24, 16), hand, 0, -0.006, 0.086);
  if (watchman) {
    put(
      head,
      turned(
        [
          [0.112, 0.045],
          [0.114, 0.05],
          [0.082, 0.058],
          [0.076, 0.07],
          [0.073, 0.15],
          [0.076, 0.158],
          [0.001, 0.16],
        ],
        56,
      ),
      dark,
    );
    put(
      head,
      turned(
        [
          [0.079, 0.06],
          [0.082, 0.062],
          [0.079, 0.084],
          [0.075, 0.086],
        ],
        56,
      ),
      trim,
    );
    put(
      head,
      tube(
        [
          [0.072, 0.1, 0.0],
          [0.1, 0.16, -0.01],
          [0.1, 0.22, -0.03],
        ],
        0.008,
      ),
      trim,
    ); // a feather
  } else {
    put(
      head,
      new THREE.SphereGeometry(0.09, 48, 32, 0, 2 * Math.PI, 0, 1.25),
      materialOf(lacquer(409, [0.3, 0.16, 0.08]), 1, 0.5),
      0,
      0.004,
      -0.008,
    );
    put(
      head,
      turned(
        [
          [0.075, 0.055],
          [0.084, 0.06],
          [0.08, 0.08],
          [0.078, 0.1],
          [0.096, 0.125],
          [0.09, 0.16],
          [0.05, 0.18],
          [0.001, 0.182],
        ],
        48,
      ),
      trim,
    );
  }
  const arm = (side: number): THREE.Group => {
    const shoulder = new THREE.Group();
    shoulder.position.set(side * 0.108, 0.375, 0);
    put(shoulder, new THREE.SphereGeometry(0.032, 24, 18), coat);
    put(
      shoulder,
      turned(
        [
          [0.001, 0.0],
          [0.02, -0.005],
          [0.024, -0.06],
          [0.02, -0.13],
          [0.027, -0.15],
          [0.001, -0.152],
        ]
          .map(([r, y]) => [r!, y!] as const)
          .reverse(),
        28,
      ),
      coat,
    );
    put(shoulder, new THREE.SphereGeometry(0.023, 20, 16), hand, 0, -0.168, 0);
    body.add(shoulder);
    return shoulder;
  };
  const left = arm(1);
  const right = arm(-1);
  const key = new THREE.Group();
  key.position.set(0, 0.29, -0.09);
  put(key, new THREE.CylinderGeometry(0.009, 0.009, 0.08, 16), gold, 0, 0, -0.035).rotation.x = Math.PI / 2;
  for (const side of [-1, 1]) put(key, new THREE.TorusGeometry(0.026, 0.008, 10, 32), gold, side * 0.03, 0, -0.08);
  body.add(key);
  castShadows(body);
  return {
    body,
    head,
    leftArm: left,
    pose(headYaw, keyTurn, rightArm, leftArm) {
      head.rotation.y = headYaw;
      key.rotation.z = keyTurn;
      right.rotation.set(-rightArm, 0, -0.22);
      left.rotation.set(-leftArm, 0, 0.22);
      body.updateMatrixWorld(true);
    },
    points() {
      const on = (x: number, y: number, z: number): THREE.Vector3 => head.localToWorld(new THREE.Vector3(x, y, z));
      return {
        'head centre': on(0, 0, 0),
        'nose tip': on(0, -0.006, 0.101),
        'left eye': on(0.022, 0.004, 0.0785),
        'right eye': on(-0.022, 0.004, 0.0785),
        chin: on(0, -0.082, 0.03),
      };
    },
  };
}

/** A bronze bell, 0.5 m across the mouth; hangs from the origin. */
export function makeBell(): THREE.Group {
  const bell = new THREE.Group();
  const bronze = materialOf(brass(411), 3, 1, { metalness: 0.9, side: THREE.DoubleSide });
  put(
    bell,
    turned(
      [
        [0.25, -0.46],
        [0.262, -0.45],
        [0.235, -0.4],
        [0.195, -0.32],
        [0.165, -0.2],
        [0.15, -0.1],
        [0.115, -0.045],
        [0.05, -0.02],
        [0.001, -0.018],
      ],
      72,
    ),
    bronze,
  );
  for (const y of [-0.39, -0.375, -0.13, -0.118])
    put(bell, new THREE.TorusGeometry(y < -0.3 ? 0.232 : 0.158, 0.0045, 8, 72), bronze, 0, y, 0).rotation.x = Math.PI / 2;
  put(bell, slab(0.1, 0.1, 0.07, 0.02), bronze, 0, 0.02, 0);
  put(bell, new THREE.SphereGeometry(0.04, 24, 16), bronze, 0, -0.44, 0);
  castShadows(bell);
  return bell;
}

/** A hammer to be held: the grip at the origin, the head 0.15 m along +y. */
export function makeHammer(): THREE.Group {
  const hammer = new THREE.Group();
  const gold = materialOf(brass(413), 1, 1, { metalness: 0.9 });
  put(hammer, new THREE.CylinderGeometry(0.007, 0.009, 0.2, 16), materialOf(lacquer(415, [0.3, 0.16, 0.08])), 0, 0.06, 0);
  put(
    hammer,
    turned(
      [
        [0.001, -0.05],
        [0.026, -0.05],
        [0.03, -0.04],
        [0.024, -0.01],
        [0.024, 0.01],
        [0.03, 0.04],
        [0.026, 0.05],
        [0.001, 0.05],
      ],
      32,
    ),
    gold,
    0,
    0.16,
    0,
  ).rotation.x = Math.PI / 2;
  castShadows(hammer);
  return hammer;
}
