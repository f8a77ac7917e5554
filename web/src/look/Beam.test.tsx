import { cleanup, render, screen } from '@testing-library/react';
import { afterEach, describe, expect, it } from 'vitest';
import { Beam } from './Beam';

afterEach(cleanup);

const show = (exposure: number, hazard: number, tilt: number) =>
  render(
    <Beam
      exposure={exposure}
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
      screen.getByRole('img', { name: 'Installing costs 39.2 points, waiting 7.90; leans to waiting, tilt -1.60, likely -2.10 to -1.10' }),
    ).toBeTruthy();
  });
  it('sinks on the heavier side, whose disc is larger', () => {
    show(600, 4, 4.9);
    const [hazard, exposure] = discs();
    expect(exposure?.y).toBeGreaterThan(hazard?.y ?? 0);
    expect(exposure?.r).toBeGreaterThan(hazard?.r ?? 0);
  });
  it('has no disc where there is nothing, and never turns further than its stop', () => {
    show(0, 50, -5);
    const steep = discs();
    expect(steep[1]?.r).toBe(0);
    cleanup();
    show(0, 50, -9);
    expect(discs()).toEqual(steep);
  });
});
