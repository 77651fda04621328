import type { KeyboardEvent } from 'react';

const WAYS: Readonly<Record<string, number>> = { ArrowLeft: -1, ArrowUp: -1, ArrowRight: 1, ArrowDown: 1 };

/**
 * Moves the focus along a row of buttons or tabs that is one stop for Tab: arrows go to the neighbour and Home and End to the ends. It is
 * the key handler of each of them.
 */
export function moveFocus(event: KeyboardEvent<HTMLElement>): void {
  const row = event.currentTarget.closest('[role="tablist"], [role="toolbar"]');
  if (row === null || !(event.key in WAYS || event.key === 'Home' || event.key === 'End')) return;
  const stops = [...row.querySelectorAll<HTMLElement>('button, [role="tab"]')].filter((e) => !(e as HTMLButtonElement).disabled);
  const at = stops.indexOf(event.currentTarget);
  const next = event.key === 'Home' ? 0 : event.key === 'End' ? stops.length - 1 : (at + WAYS[event.key]! + stops.length) % stops.length;
  event.preventDefault();
  event.stopPropagation();
  stops[next]?.focus();
}
