import { expect, it } from 'vitest';
import { helpOn } from './help';

it('says what each tool takes, with an example that names it', () => {
  const all = helpOn('tool', undefined)!;
  const names = [...all.matchAll(/^ {2}(\w+) {2,}[A-Z]/gm)].map(([, name]) => name!);
  expect(names.length).toBeGreaterThan(8);
  for (const name of names) {
    const page = helpOn('tool', name)!;
    expect(page).toContain(`usage: ./irimi tool ${name} `);
    expect(page.trim().split('\n').at(-1)).toContain(`./irimi tool ${name} `);
  }
  expect(helpOn('tool', 'constructor')).toBe(all);
});

it('says what render takes, and nothing of what is no verb', () => {
  expect(helpOn('render', undefined)).toContain('usage: ./irimi render FILM');
  expect(helpOn('dance', undefined)).toBeNull();
});
