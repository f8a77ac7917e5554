import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, fireEvent, render, screen } from '@testing-library/react';
import { App } from 'antd';
import type { ReactNode } from 'react';
import { MemoryRouter } from 'react-router';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { Schemas } from '../api/client';
import { Evidence } from './Evidence';
import { Factors } from './Factors';
import { caseView, evidence, population } from './fixtures';
import { rowsOf } from './rows';
import { Suggested } from './Suggested';

const NOW = new Date('2026-11-24T04:56:00Z');

beforeEach(() => {
  vi.stubGlobal('matchMedia', () => ({
    matches: false,
    addListener() {},
    removeListener() {},
    addEventListener() {},
    removeEventListener() {},
  }));
});
afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

const show = (node: ReactNode) =>
  render(
    <QueryClientProvider client={new QueryClient()}>
      <App>
        <MemoryRouter>{node}</MemoryRouter>
      </App>
    </QueryClientProvider>,
  );
const text = () => document.body.textContent ?? '';

const column = (part: Partial<Schemas['EvidenceView']>, narrow = vi.fn(), open = vi.fn()) =>
  show(
    <Evidence
      page={caseView({ evidence: evidence(part), siblings: ['FTM-0869'] })}
      now={NOW}
      analyst
      dialog={undefined}
      open={open}
      narrow={narrow}
    />,
  );

describe('the evidence of a case', () => {
  it('draws a suspected cause with both rates, and one action narrows a block to it', () => {
    const narrow = vi.fn();
    column({}, narrow);
    expect(text()).toContain('reader = R2 and spool_free_mb ≤ 297');
    expect(text()).toContain('inside: 9 of 12 failed with 0x1107-28');
    expect(text()).toContain('outside: 2 of 188 failed');
    expect(text()).toContain('23 hosts lack it there');
    fireEvent.click(screen.getByRole('button', { name: 'Block where this holds' }));
    expect(narrow).toHaveBeenCalledWith('reader = R2 and spool_free_mb ≤ 297');
    expect(text()).toContain('Cannot be told apart from:reader = R2 and site = s4 9 of 13 failed, 2 of 187 outside');
    fireEvent.click(screen.getByRole('button', { name: 'Take this one' }));
    expect(narrow).toHaveBeenLastCalledWith('reader = R2 and site = s4');
  });
  it('tells tries by code against what is usual', () => {
    column({});
    expect(text()).toContain('11 of 200 hosts failed');
    expect(text()).toContain('0x1107-28 refused, 11 hosts, 5.5 %');
    expect(text()).toContain('Baseline rate: 0.30 %, from 0 installs tried of updates of its kind');
  });
  it('tells what known issues touch, and which are only inherited', () => {
    const issue: Schemas['IssueView'] = {
      id: 'KI-1',
      words: 'The reader is lost.',
      state: 'OPEN',
      failureClass: 'DEGRADED',
      where: 'reader = R2',
      source: 'Skerry Line',
      since: '2026-11-20T00:00:00Z',
      changed: '2026-11-20T00:00:00Z',
      updates: ['LNT-3042'],
      fixedBy: [],
      touches: { count: 2, names: ['k1', 'k2'] },
      inherited: true,
    };
    column({ issues: [issue, { ...issue, id: 'KI-2', touches: undefined, where: undefined, state: 'FIXED', inherited: false }] });
    expect(text()).toContain('touches 2 hosts that lack it (reader = R2)');
    expect(text()).toContain('told of LNT-3042, which this supersedes, and not told to be fixed');
    expect(text()).toContain('Fixed. degraded; it names no hosts');
    expect(text()).toContain('1 open');
  });
  it('tells exploitation, reports from elsewhere, notes and siblings', () => {
    column({
      reports: [
        {
          id: 'a/1',
          code: '0x1107-28',
          failureClass: 'REFUSED',
          words: 'Stops.',
          hosts: ['ksk-012'],
          unknownHosts: ['ksk-999'],
          others: 34,
          where: 'reader = R2',
          source: 'Harbour exchange',
          at: '2026-11-20T00:00:00Z',
        },
      ],
      notes: [
        { number: 1, where: 'role = desktop', reason: 'not used', author: 'M. Aldane', createdAt: '2026-11-20T00:00:00Z', hosts: 12 },
      ],
    });
    expect(text()).toContain(
      'ksk-012, ksk-999 (not known here), 34 hosts elsewhere with reader = R2, refused. Harbour exchange, Fri 20 Nov',
    );
    expect(text()).toContain('where role = desktop: not used. 12 hosts. M. Aldane, Fri 20 Nov');
    expect(text()).toContain('CVE-2026-9000001: probability 0.031, higher than 60 % of all; Tue 24 Nov, model v1');
    expect(screen.getByRole('link', { name: 'FTM-0869' })).toBeTruthy();
  });
  it('shows the notes that stand, for analysts to write and take back', () => {
    const note = { author: 'M. Aldane', createdAt: '2026-11-20T00:00:00Z' };
    const open = vi.fn();
    column(
      {
        caseNotes: [
          { ...note, number: 3, words: 'ask for the log', assignee: 'J. Fenn', lookAgain: '2026-11-26' },
          { ...note, number: 2, words: 'asked the vendor' },
          { ...note, number: 1, words: 'wrong number', revokedAt: '2026-11-21T00:00:00Z' },
        ],
      },
      vi.fn(),
      open,
    );
    expect(text()).toContain('Notes 2');
    expect(text()).toContain('ask for the log M. Aldane, Fri 20 Nov Seen to by J. Fenn, looked at again Thu 26 Nov. Done');
    expect(text()).toContain('asked the vendor M. Aldane, Fri 20 Nov');
    expect(text()).not.toContain('wrong number');
    fireEvent.click(screen.getByRole('button', { name: 'Write a note (M)' }));
    expect(open).toHaveBeenCalledWith('words');
  });
  it('opens the form of a desk report', () => {
    const open = vi.fn();
    column({}, vi.fn(), open);
    fireEvent.click(screen.getByRole('button', { name: 'Report a failure (T)' }));
    expect(open).toHaveBeenCalledWith('failure');
  });
});

describe('the factors of a weighing', () => {
  const range = (middle: number) => ({ middle, low: middle / 2, high: middle * 2 });
  const weighing: Schemas['WeighingView'] = {
    population: 'kiosks',
    exposure: 47.63,
    exposureUnknown: 1.5,
    hazard: range(8.53),
    usual: 4.33,
    tilt: { middle: 1.72, low: 1.02, high: 2.93 },
    harm: ['FAILURES_ABOVE_USUAL'],
    suggestion: { type: 'PILOT', where: [] },
    flips: [{ input: 'FAILURES', value: 2, suggestion: { type: 'BLOCK', where: [] } }],
    cells: [
      {
        products: [],
        sorts: { sound: { share: 0.5, rate: 0.017 }, flawed: { share: 0.49, rate: 0.071 }, bad: { share: 0.01, rate: 0.116 } },
        usual: 4.33,
        lacking: 100,
        tried: 40,
        failed: 3,
        outside: 0,
        rate: { middle: 0.0533, low: 0.0158, high: 0.1077 },
        harm: 0.4,
        exposure: 47.63,
        hazard: range(8.53),
        tilt: range(1.72),
        exposureFactors: [
          {
            hosts: 100,
            unknown: 3,
            weight: 4,
            facing: 'INTERNAL',
            openness: 0.35,
            vulnerability: 'CVE-2026-9000001',
            risk: 0.3402,
            hitShare: 1,
            points: 47.63,
          },
        ],
        hazardFactors: [{ hosts: 100, weight: 4, byRate: 0.02132, byIssue: 0, points: 8.53 }],
        notAffected: 5,
        restartOutstanding: 0,
      },
    ],
  };
  it('can be worked out by hand', () => {
    show(<Factors weighing={weighing} evidence={evidence()} weights={[8, 4, 2, 1]} now={NOW} />);
    expect(text()).toContain('100 hosts × weight 4 × openness 0.35 (internal) × risk 0.3402, 3 by last known state= 47.6');
    expect(text()).toContain('likelihood 0.031 (exploit probability since Tue 24 Nov) × vector 0.5 (local) × base 7.4 / 10');
    expect(text()).toContain('100 hosts × weight 4 × q 0.0533 × harm 0.4= 8.53');
    expect(text()).toContain('q after 3 of 40 failed: 50 % sound × 1.7 % + 49 % flawed × 7.1 % + 1.0 % bad × 12 % = 5.3 %');
    expect(text()).toContain('baseline rate 0.30 %, as only 0 installs of its kind were tried in a year');
    expect(text()).toContain('5 hosts that are not affected');
    expect(text()).toContain('Tilt ln((47.63 + 4.33 + 0.01) / (8.53 + 0.01)) = 1.72, likely 1.02 to 2.93');
  });
  it('say why something is suggested, and for each population what would turn it', () => {
    const kiosks = population('kiosks', 'Ticket kiosks', 5, { weighing });
    const tablets = population('tablets', 'Crew tablets', 5, { weighing: { ...weighing, harm: [], flips: [] } });
    const page = caseView({ populations: [kiosks] });
    const [alone] = rowsOf(page, false);
    show(alone && <Suggested row={alone} weights={[8, 4, 2, 1]} />);
    expect(text()).toContain('Ticket kiosks: pilot');
    expect(text()).toContain('Waiting costs 47.6, as bad as losing 6 tier-1 hosts; installing costs 8.53');
    expect(text()).toContain('it fails more than twice as often as usual');
    expect(text()).toContain('Would change with:2 more failures → block');
    cleanup();
    show(alone && <Suggested row={{ ...alone, populations: [kiosks, tablets] }} weights={[8, 4, 2, 1]} />);
    expect(text()).toContain('Ticket kiosks: 2 more failures → block');
    expect(text()).toContain('Crew tablets: nothing within the ranges that are tried');
  });
});

describe('what a catalogue asks of an exploited vulnerability', () => {
  const listed = (due: string) =>
    column({
      vulnerabilities: evidence({}).vulnerabilities.map((one) => ({
        ...one,
        added: '2026-11-20',
        asked: 'Apply the update.',
        due,
        ransomware: true,
      })),
    });

  it('is told with its last day', () => {
    listed('2026-12-11');
    expect(text()).toContain('Ransomware is known to use it.');
    expect(text()).toContain('The catalogue asks by Fri 11 Dec: Apply the update.');
  });

  it('says when that day is past', () => {
    listed('2026-11-20');
    expect(text()).toContain('by Fri 20 Nov, which is past: Apply the update.');
  });
});
