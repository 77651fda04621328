import * as THREE from 'three';
import { RoundedBoxGeometry } from 'three/examples/jsm/geometries/RoundedBoxGeometry.js';
import { seededRandom } from './noise';
import { brass, materialOf, wood } from './surfaces';

const NUMERALS = ['XII', 'I', 'II', 'III', 'IIII', 'V', 'VI', 'VII', 'VIII', 'IX', 'X', 'XI'];

/** Strokes of one numeral letter: from, to, thickness, in units of the letter's height. */
function letterStrokes(letter: string): readonly (readonly [number, number, number, number, number])[] {
  if (letter === 'V')
    return [
      [-0.24, -0.5, 0, 0.5, 0.15],
      [0.24, -0.5, 0, 0.5, 0.05],
    ];
  if (letter === 'X')
    return [
      [-0.25, -0.5, 0.25, 0.5, 0.15],
      [0.25, -0.5, -0.25, 0.5, 0.05],
    ];
  return [[0, -0.5, 0, 0.5, 0.15]];
}
const letterWidth = (letter: string): number => (letter === 'I' ? 0.27 : 0.66);

function drawNumeral(g: CanvasRenderingContext2D, text: string, size: number): void {
  const total = [...text].reduce((w, l) => w + letterWidth(l), 0);
  let x = (-total / 2) * size;
  for (const letter of text) {
    const centre = x + (letterWidth(letter) / 2) * size;
    for (const [x0, y0, x1, y1, thick] of letterStrokes(letter)) {
      g.lineWidth = thick * size;
      g.beginPath();
      g.moveTo(centre + x0 * size, y0 * size);
      g.lineTo(centre + x1 * size, y1 * size);
      g.stroke();
    }
    g.lineWidth = 0.05 * size;
    for (const y of [-0.5, 0.5]) {
      g.beginPath();
      g.moveTo(x + 0.03 * size, y * size);
      g.lineTo(x + (letterWidth(letter) - 0.03) * size, y * size);
      g.stroke();
    }
    x += letterWidth(letter) * size;
  }
}

/** An aged dial with numerals and a minute track; `tint` is the colour of the card. */
export function dialTexture(seed: number, tint: string, size = 512): THREE.Texture {
  const canvas = document.createElement('canvas');
  canvas.width = canvas.height = size;
  const g = canvas.getContext('2d')!;
  const random = seededRandom(seed);
  g.fillStyle = tint;
  g.fillRect(0, 0, size, size);
  for (let i = 0; i < 260; i++) {
    g.fillStyle = `rgba(90, 60, 25, ${0.02 + 0.03 * random()})`;
    g.beginPath();
    g.arc(size * random(), size * random(), size * (0.004 + 0.05 * random() ** 3), 0, 7);
    g.fill();
  }
  const age = g.createRadialGradient(size / 2, size / 2, size * 0.2, size / 2, size / 2, size * 0.52);
  age.addColorStop(0, 'rgba(70,40,10,0)');
  age.addColorStop(1, 'rgba(70,40,10,0.5)');
  g.fillStyle = age;
  g.fillRect(0, 0, size, size);
  g.translate(size / 2, size / 2);
  g.strokeStyle = '#221b14';
  for (const [radius, width] of [
    [0.462, 0.004],
    [0.436, 0.004],
    [0.25, 0.003],
  ] as const) {
    g.lineWidth = width * size;
    g.beginPath();
    g.arc(0, 0, radius * size, 0, 7);
    g.stroke();
  }
  for (let i = 0; i < 60; i++) {
    g.save();
    g.rotate((i * Math.PI) / 30);
    g.lineWidth = size * (i % 5 === 0 ? 0.009 : 0.004);
    g.beginPath();
    g.moveTo(0, -0.436 * size);
    g.lineTo(0, -0.462 * size);
    g.stroke();
    if (i % 5 === 0) {
      g.translate(0, -0.365 * size);
      drawNumeral(g, NUMERALS[i / 5]!, 0.088 * size);
    }
    g.restore();
  }
  const texture = new THREE.CanvasTexture(canvas);
  texture.colorSpace = THREE.SRGBColorSpace;
  texture.anisotropy = 8;
  return texture;
}

export interface Clock {
  readonly body: THREE.Group;
  /** Puts hands and pendulum to `seconds`. */
  tick(seconds: number): void;
}

export interface ClockStuff {
  readonly brass: THREE.MeshStandardMaterial;
  readonly woods: readonly THREE.MeshStandardMaterial[];
  readonly dials: readonly THREE.MeshStandardMaterial[];
  readonly dark: THREE.MeshStandardMaterial;
  readonly glass: THREE.MeshPhysicalMaterial;
}

/** Materials shared by all clocks of a scene; dials painted `dialSize` pixels wide. */
export function clockStuff(dialSize = 512): ClockStuff {
  const dial = (seed: number, tint: string): THREE.MeshStandardMaterial =>
    new THREE.MeshStandardMaterial({ map: dialTexture(seed, tint, dialSize), roughness: 0.6 });
  return {
    brass: materialOf(brass(5), 1, 1, { metalness: 0.9 }),
    woods: [
      materialOf(wood(31, [0.42, 0.22, 0.11], [0.2, 0.09, 0.045])),
      materialOf(wood(37, [0.5, 0.31, 0.16], [0.27, 0.15, 0.08])),
      materialOf(wood(41, [0.25, 0.13, 0.09], [0.1, 0.055, 0.045])),
    ],
    dials: [dial(3, '#e9dcbc'), dial(7, '#d9c59a'), dial(11, '#efe6d2')],
    dark: new THREE.MeshStandardMaterial({ color: 0x15110e, roughness: 0.35, metalness: 0.4 }),
    glass: new THREE.MeshPhysicalMaterial({
      color: 0xffffff,
      roughness: 0.04,
      transparent: true,
      opacity: 0.06,
      metalness: 0,
      clearcoat: 0.6,
      depthWrite: false,
    }),
  };
}

function shadowed<T extends THREE.Object3D>(object: T): T {
  object.traverse((o) => {
    if (o instanceof THREE.Mesh && !(o.material instanceof THREE.MeshPhysicalMaterial)) o.castShadow = o.receiveShadow = true;
  });
  return object;
}

/** A dial of radius `r` facing +z with rim and hands, set to `hours`. */
export function makeFace(stuff: ClockStuff, r: number, kind: number, hours: number): Clock {
  const body = new THREE.Group();
  const plate = new THREE.Mesh(new THREE.CircleGeometry(r, 64), stuff.dials[kind % stuff.dials.length]);
  const profile = [
    [0.96, 0],
    [1.0, 0.05],
    [1.06, 0.09],
    [1.13, 0.07],
    [1.15, -0.02],
    [1.12, -0.08],
  ].map(([x, y]) => new THREE.Vector2(x! * r, y! * r));
  const rimBrass = stuff.brass.clone();
  rimBrass.side = THREE.DoubleSide;
  const rim = new THREE.Mesh(new THREE.LatheGeometry(profile, 72), rimBrass);
  rim.rotation.x = Math.PI / 2;
  const hand = (length: number, width: number, z: number): THREE.Mesh => {
    const shape = new THREE.Shape();
    shape.moveTo(-width, -0.16 * length);
    shape.lineTo(width, -0.16 * length);
    shape.lineTo(0.7 * width, 0.7 * length);
    shape.lineTo(0, length);
    shape.lineTo(-0.7 * width, 0.7 * length);
    const mesh = new THREE.Mesh(new THREE.ExtrudeGeometry(shape, { depth: 0.01 * r, bevelEnabled: false }), stuff.dark);
    mesh.position.z = z;
    return mesh;
  };
  const hour = hand(0.52 * r, 0.045 * r, 0.03 * r);
  const minute = hand(0.84 * r, 0.032 * r, 0.05 * r);
  const boss = new THREE.Mesh(new THREE.CylinderGeometry(0.05 * r, 0.06 * r, 0.16 * r, 24), stuff.brass);
  boss.rotation.x = Math.PI / 2;
  body.add(plate, rim, hour, minute, boss);
  return {
    body,
    tick(seconds) {
      const now = hours + seconds / 3600;
      hour.rotation.z = -now * (Math.PI / 6);
      minute.rotation.z = -now * 2 * Math.PI;
    },
  };
}

/** A clock of one of five kinds, about `height` metres tall, standing on y = 0 and facing +z. */
export function makeClock(stuff: ClockStuff, kind: number, height: number, seed: number): Clock {
  const random = seededRandom(seed);
  const hours = 12 * random();
  const body = new THREE.Group();
  const timber = stuff.woods[Math.floor(random() * stuff.woods.length)]!;
  const box = (w: number, h: number, d: number, y: number, material: THREE.Material = timber, round = 0.012): THREE.Mesh => {
    const mesh = new THREE.Mesh(new RoundedBoxGeometry(w, h, d, 3, Math.min(round, w / 3, h / 3, d / 3)), material);
    mesh.position.y = y;
    body.add(mesh);
    return mesh;
  };
  const place = (clock: Clock, y: number, z: number): Clock => {
    clock.body.position.set(0, y, z);
    body.add(clock.body);
    return clock;
  };
  const swing: { object: THREE.Object3D; phase: number; rate: number }[] = [];
  const pendulum = (y: number, length: number, z: number): void => {
    const group = new THREE.Group();
    const rod = new THREE.Mesh(new THREE.CylinderGeometry(0.004, 0.004, length, 8), stuff.brass);
    rod.position.y = -length / 2;
    const bob = new THREE.Mesh(new THREE.SphereGeometry(0.16 * length + 0.01, 32, 16), stuff.brass);
    bob.scale.z = 0.3;
    bob.position.y = -length;
    group.add(rod, bob);
    group.position.set(0, y, z);
    body.add(group);
    swing.push({ object: group, phase: 6 * random(), rate: 2.2 / Math.sqrt(length + 0.1) });
  };
  let clock: Clock;
  switch (kind % 5) {
    case 0: {
      // mantel clock with a curved top
      const w = 0.86 * height;
      box(1.12 * w, 0.09 * height, 0.42 * height, 0.045 * height);
      box(w, 0.56 * height, 0.34 * height, 0.37 * height);
      const top = new THREE.Mesh(new THREE.CylinderGeometry(w / 2, w / 2, 0.34 * height, 48, 1, false, -Math.PI / 2, Math.PI), timber);
      top.rotation.x = Math.PI / 2;
      top.scale.z = 0.75;
      top.rotation.x = -Math.PI / 2;
      top.position.y = 0.64 * height;
      body.add(top);
      clock = place(makeFace(stuff, 0.31 * height, 0, hours), 0.55 * height, 0.175 * height);
      break;
    }
    case 1: {
      // round brass alarm clock with bells
      const r = 0.36 * height;
      const drum = new THREE.Mesh(new THREE.CylinderGeometry(r, r, 0.5 * r, 64), stuff.brass);
      drum.rotation.x = Math.PI / 2;
      drum.position.y = 0.46 * height;
      body.add(drum);
      for (const side of [-1, 1]) {
        const bell = new THREE.Mesh(new THREE.SphereGeometry(0.3 * r, 32, 16, 0, 7, 0, Math.PI / 2), stuff.brass);
        bell.position.set(side * 0.5 * r, 0.46 * height + 0.98 * r, 0);
        bell.rotation.z = -side * 0.45;
        const leg = new THREE.Mesh(new THREE.CylinderGeometry(0.05 * r, 0.08 * r, 0.5 * r, 12), stuff.brass);
        leg.position.set(side * 0.6 * r, 0.2 * r, 0);
        leg.rotation.z = side * 0.5;
        body.add(bell, leg);
      }
      clock = place(makeFace(stuff, 0.93 * r, 2, hours), 0.46 * height, 0.27 * r);
      break;
    }
    case 2: {
      // tall case with pendulum window
      const w = 0.44 * height;
      box(1.15 * w, 0.08 * height, 0.36 * w + 0.02, 0.04 * height);
      box(w, 0.03 * height, 0.3 * w, 0.1 * height);
      box(w, 0.86 * height, 0.06 * w, 0.52 * height).position.z = -0.12 * w;
      for (const side of [-1, 1]) box(0.1 * w, 0.86 * height, 0.3 * w, 0.52 * height).position.x = side * 0.45 * w;
      box(w, 0.42 * height, 0.28 * w, 0.76 * height);
      box(1.16 * w, 0.05 * height, 0.36 * w, 0.98 * height);
      pendulum(0.54 * height, 0.28 * height, 0.05 * w);
      const pane = new THREE.Mesh(new THREE.PlaneGeometry(0.8 * w, 0.42 * height), stuff.glass);
      pane.position.set(0, 0.33 * height, 0.16 * w);
      body.add(pane);
      clock = place(makeFace(stuff, 0.37 * w, 1, hours), 0.76 * height, 0.15 * w);
      break;
    }
    case 3: {
      // skeleton under a glass dome
      const r = 0.3 * height;
      const foot = new THREE.Mesh(new THREE.CylinderGeometry(1.1 * r, 1.2 * r, 0.1 * height, 48), timber);
      foot.position.y = 0.05 * height;
      const dome = new THREE.Mesh(new THREE.CapsuleGeometry(0.98 * r, 0.42 * height, 16, 48), stuff.glass);
      dome.position.y = 0.55 * height - 0.05 * height;
      for (const side of [-1, 1]) {
        const post = new THREE.Mesh(new THREE.CylinderGeometry(0.035 * r, 0.035 * r, 0.5 * height, 12), stuff.brass);
        post.position.set(side * 0.42 * r, 0.33 * height, -0.1 * r);
        body.add(post);
      }
      for (let i = 0; i < 3; i++) {
        const wheel = new THREE.Mesh(new THREE.TorusGeometry((0.34 - 0.07 * i) * r, 0.03 * r, 8, 40), stuff.brass);
        wheel.position.set((i - 1) * 0.3 * r, (0.24 + 0.05 * i) * height, 0.02 * i);
        body.add(wheel);
      }
      body.add(foot, dome);
      clock = place(makeFace(stuff, 0.56 * r, 0, hours), 0.6 * height, 0.05 * r);
      break;
    }
    default: {
      // plain bracket clock with a handle
      const w = 0.72 * height;
      box(1.1 * w, 0.08 * height, 0.5 * w, 0.04 * height);
      box(w, 0.72 * height, 0.42 * w, 0.44 * height);
      box(0.8 * w, 0.1 * height, 0.34 * w, 0.84 * height, timber, 0.03);
      const handle = new THREE.Mesh(new THREE.TorusGeometry(0.13 * w, 0.02 * w, 10, 32, Math.PI), stuff.brass);
      handle.position.y = 0.88 * height;
      body.add(handle);
      clock = place(makeFace(stuff, 0.4 * w, 2, hours), 0.47 * height, 0.215 * w);
    }
  }
  shadowed(body);
  return {
    body,
    tick(seconds) {
      clock.tick(seconds);
      for (const { object, phase, rate } of swing) object.rotation.z = 0.16 * Math.sin(rate * 2 * seconds + phase);
    },
  };
}
