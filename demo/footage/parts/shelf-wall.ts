import * as THREE from 'three';
import { RoundedBoxGeometry } from 'three/examples/jsm/geometries/RoundedBoxGeometry.js';
import { makeClock, type Clock, type ClockStuff } from './clocks';
import { materialOf, plaster, type Surface } from './surfaces';

export const SHELF_HEIGHTS = [0.86, 1.42, 1.93];
const POSTS = [-2.6, -0.55, 1.5, 3.55];

/** A wall of shelves full of clocks and books around z = −0.2, x from −3 to 5; puts it into `scene` and gives the clocks. */
export function shelfWall(scene: THREE.Scene, stuff: ClockStuff, timber: Surface, random: () => number): Clock[] {
  const wall = new THREE.Mesh(new THREE.PlaneGeometry(9, 4), materialOf(plaster(33, [0.42, 0.35, 0.25]), 3, 1.4));
  wall.position.set(1, 1.5, -0.42);
  scene.add(wall);
  const planks = materialOf(timber, 3, 0.4);
  const upright = materialOf(timber, 0.6, 2);
  for (const y of [0.3, ...SHELF_HEIGHTS]) {
    const shelf = new THREE.Mesh(new RoundedBoxGeometry(8, 0.045, 0.52, 2, 0.01), planks);
    shelf.position.set(1, y - 0.0225, -0.14);
    scene.add(shelf);
  }
  for (const x of POSTS) {
    const post = new THREE.Mesh(new RoundedBoxGeometry(0.07, 3, 0.5, 2, 0.01), upright);
    post.position.set(x, 1.4, -0.15);
    scene.add(post);
  }
  const clocks: Clock[] = [];
  SHELF_HEIGHTS.forEach((y, row) => {
    for (let x = -2.4, i = 0; x < 3.4; i++) {
      const kind = Math.floor(5 * random());
      const height = (row === 2 ? 0.34 : 0.4) + 0.09 * random();
      const width = [0.98, 0.86, 0.56, 0.8, 0.82][kind]! * height;
      x += width / 2 + 0.03 + 0.06 * random();
      if (POSTS.some((post) => Math.abs(post - x) < width / 2 + 0.05)) {
        x += width / 2 + 0.08;
        continue;
      }
      const clock = makeClock(stuff, kind, height, 500 + 40 * row + i);
      clock.body.position.set(x, y, -0.16 + 0.1 * random());
      clock.body.rotation.y = 0.35 * (random() - 0.5);
      scene.add(clock.body);
      clocks.push(clock);
      x += width / 2;
      if (random() < 0.35) {
        const book = new THREE.Mesh(
          new RoundedBoxGeometry(0.035 + 0.02 * random(), 0.2 + 0.06 * random(), 0.17, 2, 0.006),
          new THREE.MeshStandardMaterial({ color: [0x5a2a20, 0x2a3a34, 0x6a5a36, 0x33304a][Math.floor(4 * random())]!, roughness: 0.8 }),
        );
        book.position.set(x + 0.04, y + 0.115, -0.1);
        book.rotation.z = 0.06 * (random() - 0.5);
        scene.add(book);
        x += 0.08;
      }
    }
  });
  return clocks;
}
