/** Events of a run as marks on its timeline. */
import { describe, expect, it } from 'vitest';
import type { Happening } from '@vim-pivot/core';
import { grouped } from '../state/runs/grouped';

const at = (t: number, message: string): Happening => ({ t, kind: 'struck', element: { family: 'loads', name: 'Contact' }, message });

describe('Events on the timeline', () => {
  it('stand alone where there is room, each in its own words', () => {
    expect(grouped([at(0.1, 'A.'), at(0.5, 'B.')], 1)).toEqual([
      { from: 0.1, to: 0.1, count: 1, says: '0.1000 s: A.' },
      { from: 0.5, to: 0.5, count: 1, says: '0.5000 s: B.' },
    ]);
  });
  it('are one mark where they would stand on one another, which names the most frequent', () => {
    const list = [at(0.5, 'A.'), at(0.501, 'B.'), at(0.502, 'A.'), at(0.503, 'C.'), at(0.5031, 'D.'), at(0.5032, 'E.'), at(0.9, 'A.')],
      [first, last] = grouped(list, 1);
    expect(first).toMatchObject({ from: 0.5, to: 0.5032, count: 6 });
    expect(first!.says.split('\n')).toEqual(['6 events from 0.5000 to 0.5032 s', 'A. (2 times)', 'B.', 'C.', 'D.', 'and 1 others']);
    expect(last!.count).toBe(1);
  });
  it('lose none, however many there are, and make no more marks than there is room for', () => {
    const many = Array.from({ length: 5000 }, (_, i) => at((i * 2) / 5000, `Pin ${i % 7} meets Wheel.`)),
      marks = grouped(many, 2);
    expect(marks.reduce((n, m) => n + m.count, 0)).toBe(5000);
    expect(marks.length).toBeLessThanOrEqual(201);
    expect(grouped([], 2)).toEqual([]);
  });
});
