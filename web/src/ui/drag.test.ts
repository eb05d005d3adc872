// @vitest-environment happy-dom
import { cleanup, fireEvent, render } from '@testing-library/react';
import { createElement } from 'react';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { usePointerDrag } from './drag.js';

const told: string[] = [];
const elsewhere = vi.fn();

/** A surface that holds what is grabbed at its left half and nothing at its right. */
function Surface() {
  return createElement('div', {
    'data-testid': 'surface',
    ...usePointerDrag<string, HTMLDivElement>({
      grab: ({ clientX }) => (clientX < 100 ? `at ${clientX}` : null),
      move: (grip, { x, y }) => told.push(`${grip} by ${x} ${y}`),
      drop: (grip) => told.push(`${grip} dropped`),
      press: (grip) => told.push(`${grip} pressed`),
      takeBack: (grip, moved) => told.push(`${grip} taken back${moved ? ' after a move' : ''}`),
      hover: ({ clientX }) => told.push(`over ${clientX}`),
    }),
  });
}

let surface: HTMLElement;
const at = (clientX: number, clientY = 0, button = 0) => ({ clientX, clientY, button, pointerId: 1 });
beforeEach(() => {
  told.length = 0;
  elsewhere.mockClear();
  window.addEventListener('keydown', elsewhere);
  surface = render(createElement(Surface)).getByTestId('surface');
  surface.setPointerCapture = () => undefined;
});
afterEach(() => {
  window.removeEventListener('keydown', elsewhere);
  cleanup();
});

describe('a drag', () => {
  it('begins after four pixels, and goes on below that once it has begun', () => {
    fireEvent.pointerDown(surface, at(10));
    fireEvent.pointerMove(surface, at(13));
    expect(told).toEqual([]);
    fireEvent.pointerMove(surface, at(14));
    fireEvent.pointerMove(surface, at(11, 1));
    fireEvent.pointerUp(surface, at(11));
    expect(told).toEqual(['at 10 by 4 0', 'at 10 by 1 1', 'at 10 dropped']);
  });

  it('is a press when it is let go where it was grabbed', () => {
    fireEvent.pointerDown(surface, at(10));
    fireEvent.pointerMove(surface, at(12));
    fireEvent.pointerUp(surface, at(12));
    expect(told).toEqual(['at 10 pressed']);
  });

  it('is taken back by Escape, which nobody else gets then, and not dropped after it', () => {
    fireEvent.pointerDown(surface, at(10));
    fireEvent.pointerMove(surface, at(30));
    fireEvent.keyDown(surface, { key: 'Escape' });
    fireEvent.pointerUp(surface, at(30));
    expect(told).toEqual(['at 10 by 20 0', 'at 10 taken back after a move']);
    expect(elsewhere).not.toHaveBeenCalled();
    fireEvent.keyDown(surface, { key: 'Escape' });
    expect(elsewhere).toHaveBeenCalledOnce();
  });

  it('is taken back where the pointer is lost', () => {
    fireEvent.pointerDown(surface, at(10));
    fireEvent.pointerCancel(surface, at(10));
    expect(told).toEqual(['at 10 taken back']);
  });

  it('holds nothing by another button, or where there is nothing: the pointer only passes over', () => {
    fireEvent.pointerDown(surface, at(10, 0, 2));
    fireEvent.pointerMove(surface, at(40));
    fireEvent.pointerDown(surface, at(120));
    fireEvent.pointerMove(surface, at(150));
    fireEvent.pointerUp(surface, at(150));
    expect(told).toEqual(['over 40', 'over 150']);
  });
});
