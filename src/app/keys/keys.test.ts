import { tinykeys } from 'tinykeys';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { bindings, KEYS } from './keys';

const play = vi.fn();
const mend = vi.fn();
const undo = vi.fn();
let off = () => {};
beforeEach(() => {
  vi.clearAllMocks();
  document.body.innerHTML = `
    <p id="page">page</p><input id="input"><textarea id="text"></textarea>
    <button id="button">b</button><a id="link" href="#">l</a>
    <div role="switch" id="switch"></div><div class="n-base-selection"><i id="select"></i></div>
    <div class="n-modal"><button id="dialog">d</button></div>`;
  off = tinykeys(window, bindings({ play, mend, undo }));
});
afterEach(() => off());
const press = (id: string, key: string, more: KeyboardEventInit = {}) =>
  document.getElementById(id)!.dispatchEvent(
    new KeyboardEvent('keydown', {
      key,
      code: key === ' ' ? 'Space' : '',
      bubbles: true,
      ...more,
    }),
  );

describe('keys', () => {
  it('no two do different things', () => {
    const all = KEYS.flatMap((k) => [...k.press]);
    expect(new Set(all).size).toBe(all.length);
  });
  it('rest while something is typed, chosen, or asked', () => {
    for (const id of ['input', 'text', 'select', 'dialog']) press(id, 'm');
    expect(mend).not.toHaveBeenCalled();
    press('page', 'm');
    press('button', 'm');
    expect(mend).toHaveBeenCalledTimes(2);
  });
  it('the space bar stays with what takes it; a link does not', () => {
    for (const id of ['input', 'button', 'switch', 'select', 'dialog']) press(id, ' ');
    expect(play).not.toHaveBeenCalled();
    press('page', ' ');
    press('link', ' ');
    expect(play).toHaveBeenCalledTimes(2);
  });
  it('held down, only what moves is done again', () => {
    press('page', 'm', { repeat: true });
    expect(mend).not.toHaveBeenCalled();
    press('page', 'z', { ctrlKey: true, repeat: true });
    expect(undo).toHaveBeenCalledTimes(1);
  });
});
