import * as THREE from 'three';
import { keyLight } from './lights';
import { mirrorRoom, type FilmCamera } from './camera-film';
import { clockStuff, makeClock, type ClockStuff } from './clocks';
import { seededRandom } from './noise';
import { castShadows, put, slab, turned, tube } from './shapes';
import { shelfWall } from './shelf-wall';
import { brass, materialOf, paint, wood } from './surfaces';

export const DESK_TOP = 0.76;

/** A brass gear of `radius` lying in x, z. */
export function gear(material: THREE.Material, radius: number, teeth: number): THREE.Mesh {
  const shape = new THREE.Shape();
  for (let i = 0; i < teeth; i++) {
    for (const [turn, reach] of [
      [0, 0.88],
      [0.22, 0.88],
      [0.32, 1],
      [0.62, 1],
      [0.72, 0.88],
    ] as const) {
      const angle = ((i + turn) / teeth) * 2 * Math.PI;
      const [x, y] = [radius * reach * Math.cos(angle), radius * reach * Math.sin(angle)];
      if (i === 0 && turn === 0) shape.moveTo(x, y);
      else shape.lineTo(x, y);
    }
  }
  const hole = (x: number, y: number, r: number): void => {
    const path = new THREE.Path();
    path.absarc(x, y, r, 0, 2 * Math.PI, true);
    shape.holes.push(path);
  };
  hole(0, 0, 0.12 * radius);
  for (let i = 0; i < 5; i++) hole(0.5 * radius * Math.cos(i * 1.2566), 0.5 * radius * Math.sin(i * 1.2566), 0.2 * radius);
  const mesh = new THREE.Mesh(new THREE.ExtrudeGeometry(shape, { depth: 0.1 * radius, bevelEnabled: false, curveSegments: 16 }), material);
  mesh.rotation.x = -Math.PI / 2;
  return mesh;
}

function deskLamp(stuff: ClockStuff): THREE.Group {
  const lamp = new THREE.Group();
  put(
    lamp,
    turned([
      [0.001, 0],
      [0.08, 0],
      [0.075, 0.012],
      [0.03, 0.028],
      [0.001, 0.03],
    ]),
    stuff.brass,
  );
  put(
    lamp,
    tube(
      [
        [0, 0.02, 0],
        [-0.015, 0.16, -0.01],
        [0.0, 0.3, 0],
        [0.07, 0.385, 0.03],
        [0.12, 0.375, 0.05],
      ],
      0.007,
    ),
    stuff.brass,
  );
  const green = materialOf(paint(81, [0.07, 0.24, 0.17], [0.4, 0.33, 0.2], 0.7), 1, 1, { side: THREE.DoubleSide });
  const shade = put(
    lamp,
    turned([
      [0.02, 0.06],
      [0.04, 0.055],
      [0.085, 0.0],
      [0.088, -0.004],
    ]),
    green,
    0.12,
    0.345,
    0.05,
  );
  shade.rotation.z = -0.12;
  put(
    lamp,
    new THREE.SphereGeometry(0.026, 24, 16),
    new THREE.MeshBasicMaterial({ color: new THREE.Color(5, 3.1, 1.5) }),
    0.12,
    0.345,
    0.05,
  );
  return lamp;
}

export interface Desk {
  readonly scene: THREE.Scene;
  readonly stuff: ClockStuff;
  /** The warm light that throws the shadows. */
  readonly key: THREE.SpotLight;
  readonly tick: (frame: number) => void;
  /** Hangs the out-of-focus shelves behind the desk. */
  readonly prepare: (film: FilmCamera) => void;
}

/** The mender's desk at night, lit by its lamp; the shelves of the shop lie out of focus behind it. The desk spans x ±0.95, z −0.42…0.42. */
export function makeDesk(): Desk {
  const scene = new THREE.Scene();
  scene.background = new THREE.Color(0x0a0806);
  const random = seededRandom(909);
  const stuff = clockStuff();
  const timber = wood(83, [0.46, 0.27, 0.14], [0.23, 0.12, 0.06]);
  put(scene, slab(1.9, 0.05, 0.84, 0.012), materialOf(timber, 1, 0.5), 0, DESK_TOP - 0.025, 0);
  put(scene, slab(1.84, 0.16, 0.03), materialOf(timber, 1, 0.1), 0, DESK_TOP - 0.13, 0.38);
  const set = new THREE.Group();
  set.position.y = DESK_TOP;
  scene.add(set);
  const lamp = deskLamp(stuff);
  lamp.position.set(-0.52, 0, -0.2);
  lamp.rotation.y = 0.25;
  set.add(lamp);
  const clock = makeClock(stuff, 0, 0.27, 71);
  clock.body.position.set(0.56, 0, -0.26);
  clock.body.rotation.y = -0.35;
  const small = makeClock(stuff, 1, 0.15, 72);
  small.body.position.set(0.36, 0, -0.3);
  small.body.rotation.y = 0.2;
  set.add(clock.body, small.body);
  const gearBrass = materialOf(brass(85), 1, 1, { metalness: 0.9 });
  for (const [x, z, r, teeth, y] of [
    [0.2, 0.2, 0.05, 22, 0],
    [0.28, 0.16, 0.032, 16, 0],
    [0.225, 0.18, 0.026, 14, 0.006],
    [-0.26, 0.24, 0.04, 18, 0],
    [0.45, 0.12, 0.024, 12, 0],
    [-0.36, 0.16, 0.022, 12, 0],
  ] as const)
    set.add(gear(gearBrass, r, teeth).translateX(x).translateY(-z).translateZ(y));
  // screwdrivers, a jar of them, a rag, a book, a tin
  const handle = materialOf(wood(87, [0.5, 0.2, 0.1], [0.28, 0.09, 0.05]));
  const steel = new THREE.MeshStandardMaterial({ color: 0x9a958c, metalness: 0.9, roughness: 0.32 });
  const driver = (): THREE.Group => {
    const one = new THREE.Group();
    put(
      one,
      turned(
        [
          [0.001, 0],
          [0.008, 0.002],
          [0.0095, 0.02],
          [0.007, 0.05],
          [0.008, 0.062],
          [0.004, 0.066],
        ],
        20,
      ),
      handle,
    );
    put(one, new THREE.CylinderGeometry(0.0022, 0.0022, 0.075, 8), steel, 0, 0.1, 0);
    return one;
  };
  for (const [x, z, turn] of [
    [-0.12, 0.3, 1.1],
    [0.42, 0.26, -0.5],
  ] as const) {
    const one = driver();
    one.position.set(x, 0.009, z);
    one.rotation.set(Math.PI / 2, 0, turn, 'YXZ');
    set.add(one);
  }
  put(
    set,
    turned([
      [0.001, 0],
      [0.042, 0],
      [0.045, 0.01],
      [0.045, 0.09],
      [0.041, 0.095],
      [0.04, 0.09],
      [0.04, 0.01],
    ]),
    materialOf(paint(89, [0.33, 0.13, 0.09], [0.35, 0.3, 0.22], 0.6)),
    -0.24,
    0,
    -0.28,
  );
  for (let i = 0; i < 5; i++) {
    const one = driver();
    one.position.set(-0.24 + 0.03 * (random() - 0.5), 0.16 + 0.02 * random(), -0.28 + 0.03 * (random() - 0.5));
    one.rotation.set(Math.PI + 0.25 * (random() - 0.5), 0, 0.4 * (random() - 0.5));
    set.add(one);
  }
  for (const [y, colour, turn] of [
    [0.016, 0x54261c, 0.2],
    [0.046, 0x283a36, 0.05],
    [0.07, 0x66562f, 0.34],
  ] as const) {
    const book = put(set, slab(0.2, 0.028, 0.15, 0.005), new THREE.MeshStandardMaterial({ color: colour, roughness: 0.8 }), 0.74, y, 0.02);
    book.rotation.y = turn;
  }
  castShadows(scene);
  const key = keyLight(new THREE.SpotLight(0xffc58a, 8.5, 4, 1.02, 0.75, 1.5), [-0.36, DESK_TOP + 0.62, 0.1], [0.06, DESK_TOP, 0.1], {
    radius: 4,
    bias: -0.001,
    normalBias: 0.004,
  });
  key.shadow.camera.near = 0.05;
  const street = new THREE.DirectionalLight(0x7f9fe0, 1.5); // the window's blue from the right
  street.position.set(3, 2.2, 1.6);
  scene.add(key, key.target, street, new THREE.HemisphereLight(0x8f9cc8, 0x3a2a1c, 0.8));
  return {
    scene,
    stuff,
    key,
    tick(frame) {
      clock.tick(frame / 24);
      small.tick(frame / 24);
    },
    prepare(film) {
      const back = new THREE.Scene();
      back.background = new THREE.Color(0x080604);
      shelfWall(back, stuff, timber, seededRandom(311));
      for (const x of [-0.4, 1.5]) {
        const light = new THREE.SpotLight(0xffbd80, 30, 7, 0.95, 0.8, 1.6);
        light.position.set(x, 2.9, 1.8);
        light.target.position.set(x + 0.2, 1.15, -0.3);
        back.add(light, light.target);
      }
      back.add(new THREE.HemisphereLight(0x8a94b0, 0x3a2818, 0.5));
      mirrorRoom(back, film.renderer);
      const lens = new THREE.PerspectiveCamera(42, 16 / 9, 0.05, 20);
      lens.position.set(0.45, 1.36, 2.3);
      lens.lookAt(0.45, 1.36, 0);
      const picture = film.bake(back, lens, 1.1, 0.035, 28);
      const height = 2 * 2.5 * Math.tan((lens.fov * Math.PI) / 360);
      put(
        scene,
        new THREE.PlaneGeometry((height * 16) / 9, height),
        new THREE.MeshBasicMaterial({ map: picture, color: new THREE.Color(0.42, 0.46, 0.54) }),
        0,
        1.25,
        -1.6,
      );
    },
  };
}
