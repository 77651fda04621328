/** Whether what has the focus got it by the keyboard; a click leaves the keys to the page, wherever it was. */
let byKeyboard = false;
if (typeof window !== 'undefined') {
  // a list that was chosen from by the pointer gives the keys back to the page
  window.addEventListener('change', ({ target }) => {
    if (target instanceof HTMLSelectElement && !byKeyboard) target.blur();
  });
  window.addEventListener('keydown', (event) => (byKeyboard ||= event.key === 'Tab'), true);
  window.addEventListener('pointerdown', () => (byKeyboard = false), true);
}

export const isByKeyboard = (): boolean => byKeyboard;
