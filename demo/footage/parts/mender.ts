import * as THREE from 'three';
import { seededRandom } from './noise';
import { castShadows, put, slab, tube, turned } from './shapes';
import { brass, cloth, materialOf, paint, wood } from './surfaces';

/** An arm's angles in radians: lifted forwards, lifted sideways, elbow bent. */
export type ArmPose = readonly [forwards: number, sideways: number, bend: number];

export interface MenderPose {
  readonly headYaw: number;
  readonly headPitch: number;
  readonly headRoll: number;
  /** Lean of the trunk to its left, radians. */
  readonly lean: number;
  /** How far the jaw hangs, 0..1. */
  readonly jaw: number;
  /** Where the eyes look, −1..1 to its left and up. */
  readonly gaze: readonly [number, number];
  /** 0 open, 1 shut. */
  readonly blink: number;
  readonly leftArm: ArmPose;
  readonly rightArm: ArmPose;
  /** Swing of the legs, radians forwards. */
  readonly legs: readonly [number, number];
}

export const AT_REST: MenderPose = {
  headYaw: 0,
  headPitch: 0,
  headRoll: 0,
  lean: 0,
  jaw: 0,
  gaze: [0, 0],
  blink: 0,
  leftArm: [0.5, 0.18, 0.9],
  rightArm: [0.5, 0.18, 0.9],
  legs: [0, 0],
};

export interface Mender {
  /** The seat of the trousers is at the origin; the top of the cap at 0.84, the soles at −0.46. Faces +z. */
  readonly body: THREE.Group;
  readonly head: THREE.Group;
  pose(pose: MenderPose): void;
  /** Named places on the head, in the world. */
  points(): Record<string, THREE.Vector3>;
}

/** Hair: `count` tapered strands that start at `root(random)` and grow along `direction(random, root)`. */
function strands(
  count: number,
  seed: number,
  length: number,
  root: (random: () => number) => THREE.Vector3,
  direction: (random: () => number, root: THREE.Vector3) => THREE.Vector3,
): THREE.InstancedMesh {
  const random = seededRandom(seed);
  const geometry = new THREE.ConeGeometry(0.0017, length, 5, 4);
  geometry.translate(0, length / 2, 0);
  const at = geometry.attributes.position!;
  for (let i = 0; i < at.count; i++) at.setX(i, at.getX(i) + 0.28 * length * (at.getY(i) / length) ** 2); // each strand curls
  geometry.computeVertexNormals();
  const hair = new THREE.InstancedMesh(
    geometry,
    new THREE.MeshStandardMaterial({ color: 0xd8d2c6, roughness: 0.75, side: THREE.DoubleSide }),
    count,
  );
  const one = new THREE.Object3D();
  const up = new THREE.Vector3(0, 1, 0);
  for (let i = 0; i < count; i++) {
    one.position.copy(root(random));
    one.quaternion.setFromUnitVectors(up, direction(random, one.position).normalize());
    one.rotateY(6.3 * random());
    one.scale.set(1, 0.65 + 0.6 * random(), 1);
    one.updateMatrix();
    hair.setMatrixAt(i, one.matrix);
    const tone = 0.55 + 0.5 * random();
    hair.setColorAt(i, new THREE.Color(tone, tone * 0.985, tone * 0.95));
  }
  return hair;
}

/** The clock mender: a wooden puppet with a hanging jaw, glass eyes, spectacles, white hair, waistcoat and apron. */
export function makeMender(): Mender {
  const body = new THREE.Group();
  const skin = materialOf(wood(241, [0.74, 0.52, 0.36], [0.6, 0.39, 0.26]), 0.5, 0.35, { normalScale: new THREE.Vector2(0.35, 0.35) });
  const nose = materialOf(wood(243, [0.72, 0.42, 0.3], [0.6, 0.32, 0.22]), 0.4, 0.3, { normalScale: new THREE.Vector2(0.3, 0.3) });
  const shirt = materialOf(cloth(245, [0.62, 0.57, 0.47]), 1, 1);
  const waistcoat = materialOf(cloth(247, [0.2, 0.24, 0.22]), 1.5, 1);
  const apron = materialOf(cloth(249, [0.36, 0.23, 0.13]), 1, 1);
  const trousers = materialOf(cloth(251, [0.2, 0.19, 0.22]), 1, 1);
  const felt = materialOf(cloth(253, [0.42, 0.13, 0.1]), 1.4, 0.8);
  const leather = materialOf(paint(255, [0.2, 0.11, 0.07], [0.34, 0.22, 0.14], 0.45));
  const gold = materialOf(brass(257), 1, 1, { metalness: 0.9 });
  const dark = new THREE.MeshStandardMaterial({ color: 0x120a07, roughness: 0.9 });

  const trunk = new THREE.Group();
  body.add(trunk);
  put(
    trunk,
    turned(
      [
        [0.001, 0.0],
        [0.12, 0.0],
        [0.145, 0.05],
        [0.135, 0.16],
        [0.15, 0.28],
        [0.145, 0.36],
        [0.09, 0.42],
        [0.05, 0.44],
        [0.001, 0.445],
      ],
      48,
    ),
    waistcoat,
  ).scale.z = 0.78;
  const bib = put(trunk, new THREE.SphereGeometry(0.158, 40, 24, 0, Math.PI, 1.15, 1.5), apron, 0, 0.16, 0);
  bib.scale.set(0.92, 1.15, 0.82);
  for (const [i, y] of [0.36, 0.325, 0.29].entries())
    put(trunk, new THREE.SphereGeometry(0.009, 16, 12), gold, 0.004 * i, y, 0.111 + 0.004 * i);
  put(
    trunk,
    turned(
      [
        [0.055, 0.42],
        [0.075, 0.425],
        [0.07, 0.455],
        [0.05, 0.46],
      ],
      40,
    ),
    shirt,
  );
  const scarf = put(trunk, new THREE.TorusGeometry(0.064, 0.024, 14, 44), felt, 0, 0.45, 0.004);
  scarf.rotation.x = Math.PI / 2 - 0.12;
  put(trunk, slab(0.05, 0.15, 0.022, 0.01), felt, 0.045, 0.36, 0.118).rotation.set(-0.1, 0, 0.16);
  put(trunk, new THREE.CylinderGeometry(0.036, 0.04, 0.1, 24), skin, 0, 0.48, 0);

  const head = new THREE.Group();
  head.position.y = 0.52;
  trunk.add(head);
  const skull = put(head, new THREE.SphereGeometry(0.118, 64, 48), skin, 0, 0.11, 0);
  skull.scale.set(0.93, 1.12, 0.98);
  // the hollow behind the jaw, and the jaw: chin and lower lip in one piece, hung at the ears
  const hollow = put(head, new THREE.SphereGeometry(0.043, 32, 20), dark, 0, 0.058, 0.078);
  hollow.scale.set(1, 0.72, 0.85);
  const jaw = new THREE.Group();
  jaw.position.set(0, 0.085, 0.0);
  head.add(jaw);
  const chin = put(jaw, new THREE.SphereGeometry(0.07, 48, 32, 0, 2 * Math.PI, 1.35, Math.PI - 1.35), skin, 0, -0.03, 0.05);
  chin.scale.set(0.83, 0.92, 1.02);
  const lip = put(
    jaw,
    tube(
      [
        [-0.046, -0.018, 0.075],
        [-0.025, -0.014, 0.104],
        [0, -0.013, 0.113],
        [0.025, -0.014, 0.104],
        [0.046, -0.018, 0.075],
      ],
      0.0075,
    ),
    nose,
  );
  lip.scale.y = 1;
  put(
    head,
    tube(
      [
        [-0.05, 0.074, 0.078],
        [-0.026, 0.08, 0.108],
        [0, 0.081, 0.117],
        [0.026, 0.08, 0.108],
        [0.05, 0.074, 0.078],
      ],
      0.008,
    ),
    skin,
  );
  const bulb = put(head, new THREE.SphereGeometry(0.027, 32, 24), nose, 0, 0.112, 0.132);
  bulb.scale.set(0.95, 0.9, 1.15);
  for (const side of [-1, 1]) {
    const ear = put(head, new THREE.SphereGeometry(0.03, 24, 20), skin, side * 0.112, 0.105, -0.005);
    ear.scale.set(0.42, 1.15, 0.8);
    const cheek = put(head, new THREE.SphereGeometry(0.033, 24, 20), nose, side * 0.058, 0.092, 0.085);
    cheek.scale.set(1, 0.8, 0.6);
  }
  const white = new THREE.MeshPhysicalMaterial({ color: 0xe9e4d6, roughness: 0.25, clearcoat: 1 });
  const iris = new THREE.MeshPhysicalMaterial({ color: 0x35566b, roughness: 0.15, clearcoat: 1 });
  const pupil = new THREE.MeshPhysicalMaterial({ color: 0x050505, roughness: 0.08, clearcoat: 1 });
  const eyes: THREE.Group[] = [];
  const lids: THREE.Mesh[] = [];
  for (const side of [-1, 1]) {
    const eye = new THREE.Group();
    eye.position.set(side * 0.043, 0.15, 0.092);
    put(eye, new THREE.SphereGeometry(0.0235, 32, 24), white);
    put(eye, new THREE.SphereGeometry(0.0128, 24, 16), iris, 0, 0, 0.0145).scale.z = 0.75;
    put(eye, new THREE.SphereGeometry(0.0068, 20, 14), pupil, 0, 0, 0.0205).scale.z = 0.6;
    const lid = new THREE.Mesh(new THREE.SphereGeometry(0.0252, 32, 16, 0, 2 * Math.PI, 0, Math.PI / 2), skin);
    lid.position.copy(eye.position);
    head.add(eye, lid);
    eyes.push(eye);
    lids.push(lid);
    const rim = put(head, new THREE.TorusGeometry(0.034, 0.0028, 10, 48), gold, side * 0.044, 0.146, 0.126);
    rim.rotation.y = side * 0.16;
    put(
      head,
      tube(
        [
          [side * 0.078, 0.15, 0.12],
          [side * 0.105, 0.15, 0.07],
          [side * 0.116, 0.135, -0.01],
        ],
        0.0024,
      ),
      gold,
    );
    const brow = strands(
      120,
      260 + side,
      0.03,
      (r) => new THREE.Vector3(side * (0.02 + 0.052 * r()), 0.187 + 0.006 * r(), 0.1 - 0.012 * r()),
      (r) => new THREE.Vector3(side * (0.9 + 0.4 * r()), 0.35 + 0.5 * r(), 0.7),
    );
    head.add(brow);
  }
  put(
    head,
    tube(
      [
        [-0.012, 0.15, 0.132],
        [0, 0.158, 0.139],
        [0.012, 0.15, 0.132],
      ],
      0.0026,
    ),
    gold,
  );
  head.add(
    // moustache, sides and back of the head
    ...[-1, 1].map((side) =>
      strands(
        260,
        270 + side,
        0.052,
        (r) => new THREE.Vector3(side * (0.004 + 0.036 * r()), 0.09 + 0.007 * r(), 0.117 - 0.02 * r()),
        (r) => new THREE.Vector3(side * (0.8 + 0.5 * r()), -0.5 - 0.3 * r(), 0.42),
      ),
    ),
    ...[-1, 1].map((side) =>
      strands(
        420,
        280 + side,
        0.062,
        (r) => {
          const angle = 0.25 + 1.5 * r();
          const y = 0.09 + 0.11 * r();
          return new THREE.Vector3(side * 0.106 * Math.sin(1.75 - 0.35 * angle), y, 0.02 - 0.1 * Math.sin(angle));
        },
        (r, root) => new THREE.Vector3(root.x * (8 + 6 * r()), -0.2 + 0.9 * r(), root.z * 9 - 0.1),
      ),
    ),
    strands(
      420,
      290,
      0.06,
      (r) => {
        const a = 2.4 * (r() - 0.5);
        return new THREE.Vector3(0.1 * Math.sin(a), 0.06 + 0.13 * r(), -0.1 * Math.cos(a));
      },
      (r, root) => new THREE.Vector3(root.x * 7, -0.5 + 0.8 * r(), root.z * 9),
    ),
  );
  const cap = new THREE.Group();
  cap.position.set(0, 0.2, -0.006);
  cap.rotation.x = -0.1;
  put(
    cap,
    turned(
      [
        [0.1, -0.002],
        [0.119, 0.004],
        [0.121, 0.026],
        [0.114, 0.035],
        [0.106, 0.07],
        [0.08, 0.1],
        [0.04, 0.113],
        [0.001, 0.115],
      ],
      48,
    ),
    felt,
  );
  put(cap, new THREE.SphereGeometry(0.02, 24, 16), felt, 0, 0.12, 0);
  head.add(cap);

  const arm = (side: number): { shoulder: THREE.Group; elbow: THREE.Group } => {
    const shoulder = new THREE.Group();
    shoulder.position.set(side * 0.148, 0.385, 0);
    put(shoulder, new THREE.CapsuleGeometry(0.045, 0.15, 10, 24), shirt, 0, -0.09, 0);
    put(shoulder, new THREE.SphereGeometry(0.056, 24, 20), shirt);
    const elbow = new THREE.Group();
    elbow.position.y = -0.195;
    put(elbow, new THREE.CapsuleGeometry(0.038, 0.13, 10, 24), shirt, 0, -0.075, 0);
    put(
      elbow,
      turned(
        [
          [0.03, -0.165],
          [0.045, -0.165],
          [0.046, -0.14],
          [0.036, -0.135],
        ],
        30,
      ),
      shirt,
    );
    const palm = put(elbow, new THREE.SphereGeometry(0.036, 28, 20), skin, 0, -0.2, 0);
    palm.scale.set(0.75, 1.15, 1);
    for (let i = 0; i < 4; i++) {
      const finger = put(elbow, new THREE.CapsuleGeometry(0.0095, 0.04, 6, 12), skin, 0, -0.245, -0.026 + 0.0175 * i);
      finger.rotation.x = 0.16 * (1.5 - i);
    }
    const thumb = put(elbow, new THREE.CapsuleGeometry(0.0105, 0.03, 6, 12), skin, -side * 0.012, -0.205, 0.042);
    thumb.rotation.x = -0.7;
    shoulder.add(elbow);
    trunk.add(shoulder);
    return { shoulder, elbow };
  };
  const arms = { left: arm(1), right: arm(-1) };
  const legs = [-1, 1].map((side) => {
    const hip = new THREE.Group();
    hip.position.set(side * 0.07, 0.02, 0);
    put(hip, new THREE.CapsuleGeometry(0.058, 0.3, 10, 24), trousers, 0, -0.2, 0);
    const shoe = put(hip, new THREE.CapsuleGeometry(0.05, 0.08, 10, 20), leather, 0, -0.43, 0.035);
    shoe.rotation.x = Math.PI / 2;
    shoe.scale.y = 1.1;
    body.add(hip);
    return hip;
  });
  castShadows(body);
  return {
    body,
    head,
    pose(p) {
      trunk.rotation.z = -p.lean;
      head.rotation.set(-p.headPitch, p.headYaw, -p.headRoll, 'YXZ');
      jaw.rotation.x = 0.04 + 0.36 * p.jaw;
      for (const eye of eyes) eye.rotation.set(-0.45 * p.gaze[1], 0.5 * p.gaze[0], 0);
      for (const lid of lids) lid.rotation.x = -0.55 + 0.25 * -p.gaze[1] + 1.5 * p.blink;
      for (const [side, { shoulder, elbow }, [forwards, sideways, bend]] of [
        [1, arms.left, p.leftArm],
        [-1, arms.right, p.rightArm],
      ] as const) {
        shoulder.rotation.set(-forwards, 0, side * sideways);
        elbow.rotation.x = -bend;
        elbow.rotation.z = -side * 0.35 * Math.min(1, bend);
      }
      legs.forEach((leg, i) => (leg.rotation.x = -p.legs[i]!));
      body.updateMatrixWorld(true);
    },
    points() {
      const on = (x: number, y: number, z: number): THREE.Vector3 => head.localToWorld(new THREE.Vector3(x, y, z));
      return {
        'puppet head': on(0, 0.11, 0),
        'nose tip': on(0, 0.112, 0.163),
        'left eye': on(0.043, 0.15, 0.115),
        'right eye': on(-0.043, 0.15, 0.115),
        'cap top': on(0, 0.34, -0.02),
      };
    },
  };
}
