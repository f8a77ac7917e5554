import { cleanup, render, screen } from '@testing-library/react';
import { afterEach, describe, expect, it } from 'vitest';
import { Beam } from './Beam';

afterEach(cleanup);

const show = (exposure: number, hazard: number, tilt: number, usual = 0) =>
  render(
    <Beam
      exposure={exposure}
      usual={usual}
      hazard={{ middle: hazard, low: hazard / 2, high: hazard * 2 }}
      tilt={{ middle: tilt, low: tilt - 0.5, high: tilt + 0.5 }}
    />,
  );

const discs = () =>
  [...document.querySelectorAll('circle')].map((disc) => ({ y: Number(disc.getAttribute('cy')), r: Number(disc.getAttribute('r')) }));

describe('the beam', () => {
  it('says both sides and where it leans', () => {
    show(7.9, 39.2, -1.6);
    expect(
      screen.getByRole('img', {
        name: 'Installing costs 39.2 points, of which 0 are usual; waiting 7.90; leans to waiting, tilt -1.60, likely -2.10 to -1.10',
      }),
    ).toBeTruthy();
  });
  it('sinks on the heavier side, whose disc is larger', () => {
    show(600, 4, 4.9);
    const [, hazard, , exposure] = discs();
    expect(exposure?.y).toBeGreaterThan(hazard?.y ?? 0);
    expect(exposure?.r).toBeGreaterThan(hazard?.r ?? 0);
  });
  it('hangs level and hollow where only the usual is known', () => {
    show(0, 3.4, 0, 3.4);
    const [outerLeft, left, outerRight, right] = discs();
    expect(outerLeft?.y).toBe(outerRight?.y);
    expect(outerLeft?.r).toBe(outerRight?.r);
    expect([left?.r, right?.r]).toEqual([0, 0]);
    expect(screen.getByRole('img', { name: /of which 3.40 are usual; waiting 0; level/ })).toBeTruthy();
  });
  it('has no disc where there is nothing, and never turns further than its stop', () => {
    show(0, 50, -5);
    const steep = discs();
    expect(steep[3]?.r).toBe(0);
    cleanup();
    show(0, 50, -9);
    expect(discs()).toEqual(steep);
  });
});
