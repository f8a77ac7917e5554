import { cleanup, fireEvent, render, screen } from '@testing-library/react';
import { App as AntApp } from 'antd';
import { MemoryRouter } from 'react-router';
import { afterEach, describe, expect, it, vi } from 'vitest';
import type { Schemas } from '../api/client';
import { HoursBar } from './HoursBar';
import { effect, LadderConsequence } from './LadderConsequence';
import { StaysAtLines, StaysAtParts } from './StaysAt';

const hosts = (...names: string[]) => ({ count: names.length, names });
const nothing: Schemas['LadderChangeView'] = {
  version: '"a"',
  populations: [],
  inNoPopulation: hosts(),
  moves: [],
  verdicts: [],
  exceptions: [],
  offers: [],
  holidays: [],
  warnings: [],
};

const offer: Schemas['OfferChangeView'] = {
  update: 'A',
  title: 'A',
  offered: hosts(),
  withheld: hosts(),
  dueSooner: hosts(),
  dueLater: hosts(),
  hostDays: 0,
  offersBegin: hosts(),
  offersEnd: hosts(),
};

function text(change: Schemas['LadderChangeView']): string {
  render(
    <MemoryRouter>
      <AntApp>
        <LadderConsequence change={change} />
      </AntApp>
    </MemoryRouter>,
  );
  return document.body.textContent?.replace(/\s+/g, ' ') ?? '';
}

afterEach(cleanup);

describe('what a ladder would change', () => {
  it('says so when it changes nothing', () => {
    expect(text(nothing)).toBe(
      'No host movesNo verdict gains or loses hostsNo exception gains or loses hostsNo update is offered or due otherwise than now',
    );
    expect(effect(nothing)).toBe('Save: no host moves');
  });
  it('names who moves, and what verdicts, exceptions and offers gain and lose', () => {
    const words = text({
      ...nothing,
      moves: [{ from: 'Yard', hosts: hosts('y-1', 'y-2') }],
      verdicts: [{ number: 3, type: 'BLOCK', update: 'A-1', population: 'Yard', gains: hosts('z-1'), loses: hosts('y-1', 'y-2') }],
      exceptions: [{ number: 7, effect: 'WITHHELD', owner: 'D. Orrin', hosts: hosts('y-2') }],
      offers: [
        { ...offer, update: 'A-2', title: 'Libtls 2', offered: hosts('y-1'), withheld: hosts('y-2') },
        { ...offer, update: 'A-4', hostDays: 0.4 },
        { ...offer, update: 'A-3', title: 'Libtls 3', dueSooner: hosts('y-1'), offersEnd: hosts('y-2'), hostDays: -12.4 },
      ],
      holidays: ['no longer the holidays of Shore'],
      warnings: ['Yard owns no host.'],
    });
    expect(words).toContain('2 hosts move2 hosts from Yard to no population: y-1, y-2');
    expect(words).toContain('A-1 for Yard gains 1 host: z-1, loses 2 hosts: y-1, y-2');
    expect(words).toContain('one goes along with hosts that moveno. 7 of D. Orrin stays with y-2');
    expect(words).toContain('Libtls 2 offered to 1 host: y-1, withheld from 1 host: y-2');
    expect(words).toContain('3 updates offered or due otherwise than now: 12 host-days earlier in all');
    expect(words).toContain('Libtls 3 due, or due earlier, on 1 host: y-1 never offered without a verdict to 1 host: y-2');
    expect(words).toContain('1 update only on another day: A-4');
    expect(words).toContain('1 calendar of holidays changesno longer the holidays of Shore');
    expect(words).toContain('Yard owns no host.');
  });
  it('has the button say the effect', () => {
    expect(effect({ ...nothing, moves: [{ to: 'Yard', hosts: hosts('y-1') }] })).toBe('Save: 1 host moves');
    expect(effect({ ...nothing, offers: [{ ...offer, offered: hosts('a') }] })).toBe('Save: 1 update offered or due otherwise');
  });
});

describe('the hours of a population', () => {
  const now = new Date('2026-11-29T07:30:00Z');
  const day = (use: 'BUSY' | 'ALLOWED') => [...Array(12).fill('ALLOWED'), ...Array(34).fill(use), ...Array(2).fill('ALLOWED')];
  const timing: Schemas['TimingView'] = {
    busyHours: ['mon-fri 06:00-23:00'],
    windows: [],
    allowanceDays: 0,
    start: 'BY_ITSELF',
    earlyRestart: true,
    leastBattery: 40,
    overPaidLine: false,
    week: [...Array(5).fill(day('BUSY')), day('ALLOWED'), day('ALLOWED')],
    nextAllowed: [
      { from: '2026-11-29T07:30:00Z', until: '2026-11-30T06:00:00Z' },
      { from: '2026-11-30T23:00:00Z', until: '2026-12-01T06:00:00Z' },
      { from: '2026-12-01T23:00:00Z' },
    ],
    worked: {},
  };
  it('say when a restart is allowed next, and draw each day as stretches', () => {
    const { container } = render(<HoursBar timing={timing} name="Ticket kiosks" now={now} zone="Z" />);
    expect(container.textContent).toContain('Next allowed: today 07:30 to tomorrow 06:00, tomorrow 23:00 to 06:00, Tue 1 Dec 23:00 on.');
    expect(container.querySelectorAll('rect')).toHaveLength(5 * 3 + 2);
    cleanup();
    const never = render(<HoursBar timing={{ ...timing, nextAllowed: [] }} name="Ticket kiosks" now={now} zone="Z" />);
    expect(never.container.textContent).toContain('No allowed hours are foreseen.');
  });
});

describe('the release that a population stays at', () => {
  const now = new Date('2026-11-24T05:00:00Z');
  const target = {
    product: 'pkg:generic/lantern-desktop',
    release: '6',
    supportEnds: '2027-02-12',
    below: hosts('a-1'),
    at: hosts('a-2', 'a-3'),
    above: hosts('a-4'),
  };
  const words = (part: Partial<typeof target>) => {
    render(
      <MemoryRouter>
        <AntApp>
          <StaysAtLines targets={[{ ...target, ...part }]} now={now} />
        </AntApp>
      </MemoryRouter>,
    );
    return document.body.textContent?.replace(/\s+/g, ' ') ?? '';
  };

  it('names who is below and above it, and until when it is supported', () => {
    expect(words({})).toBe(
      'Stays at lantern-desktop 6, supported until Fri 12 Feb 2027: 2 hosts at it; 1 below it a-1; 1 above it, never lowered: a-4.',
    );
  });

  it('says when its support has ended', () => {
    expect(words({ supportEnds: '2026-11-01', below: hosts(), above: hosts() })).toContain('whose support ended Sun 1 Nov');
  });

  it('is begun for a platform that upgrades are known of, and no longer held', () => {
    const change = vi.fn();
    const population = { id: 'p', name: 'P', condition: 'x', tier: 2, rule: { otherwise: 'never' as const } };
    const parts = (staysAt: { product: string; release: string }[]) => (
      <MemoryRouter>
        <AntApp>
          <StaysAtParts population={{ ...population, staysAt }} platforms={[target.product]} now={now} change={change} />
        </AntApp>
      </MemoryRouter>
    );
    const { rerender } = render(parts([]));
    fireEvent.click(screen.getByText('hold at one'));
    expect(change).toHaveBeenCalledWith({ staysAt: [{ product: target.product, release: '' }] });
    rerender(parts([{ product: target.product, release: '6' }]));
    fireEvent.click(screen.getByLabelText('No longer stay at a release of lantern-desktop'));
    expect(change).toHaveBeenLastCalledWith({ staysAt: [] });
  });
});
