import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react';
import { App } from 'antd';
import { MemoryRouter } from 'react-router';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { Schemas } from '../api/client';
import { NO_HOSTS } from '../words/states';
import { Exploited } from './Exploited';
import { Forced } from './Forced';
import { SheetParts } from './SheetParts';
import { TimeToCarry } from './TimeToCarry';
import { Withheld } from './Withheld';

const NOW = new Date('2026-11-30T04:00:00Z');
let answers: Record<string, unknown>;
const sent: { path: string; body: unknown }[] = [];

beforeEach(() => {
  sent.length = 0;
  answers = { '/api/clock': { now: NOW.toISOString(), movable: false }, '/api/sessions/current': { role: 'ANALYST', login: 'a' } };
  vi.stubGlobal('fetch', async (input: Request) => {
    const path = new URL(input.url, 'http://here').pathname;
    if (input.method !== 'GET') {
      sent.push({ path, body: await input.json() });
      return new Response(null, { status: 204 });
    }
    return new Response(JSON.stringify(answers[path] ?? {}), { status: 200, headers: { 'Content-Type': 'application/json' } });
  });
});
afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

const show = (node: React.ReactNode) =>
  render(
    <QueryClientProvider client={new QueryClient({ defaultOptions: { queries: { retry: false } } })}>
      <App>
        <MemoryRouter>{node}</MemoryRouter>
      </App>
    </QueryClientProvider>,
  );
const text = () => document.body.textContent ?? '';

describe('the time to carry', () => {
  const days = (part: Partial<Schemas['Days']>): Schemas['Days'] => ({ got: 0, waiting: 0, ...part });
  const view: Schemas['TimeToCarryView'] = {
    from: '2026-09-01',
    counted: '2026-11-29',
    countedSince: '2026-09-02',
    populations: [
      { id: 'kiosks', name: 'Ticket kiosks', owner: 'T. Brevik' },
      { id: 'bench', name: 'Proving bench', owner: '' },
    ],
    ratings: [
      {
        rating: 'HIGH',
        updates: 5,
        target: 30,
        all: days({ half: 11, nineTenths: 41, got: 90, waiting: 6 }),
        cells: [days({ half: 2, got: 3, waiting: 5 }), days({})],
      },
    ],
    missed: [
      {
        update: 'LNT-1',
        title: 'Lantern',
        rating: 'HIGH',
        published: '2026-10-01',
        lastDay: '2026-10-31',
        population: 'kiosks',
        name: 'Ticket kiosks',
        owner: 'T. Brevik',
        have: 3,
        applies: 8,
        withheld: 2,
        nextEnd: '2026-12-10T00:00:00Z',
      },
    ],
  };

  it('gives no number to what has not come to pass, and marks what came too late', async () => {
    answers['/api/report/time-to-carry'] = view;
    answers['/api/report/carry-targets'] = { days: { HIGH: 30 } };
    show(<TimeToCarry />);
    await waitFor(() => expect(text()).toContain('2 / not yet'));
    expect(text()).toContain('11 / 41 !');
    expect(text()).toContain('90 of 96');
    expect(text()).toContain('Missed: 1 target');
    expect(text()).toContain('withheld from 2 hosts, the first until Wed 9 Dec');
  });

  it('sets a target, and leaves a rating without one at 0', async () => {
    answers['/api/report/time-to-carry'] = view;
    answers['/api/report/carry-targets'] = { days: { HIGH: 30 } };
    show(<TimeToCarry />);
    const field = await screen.findByLabelText('Days for Critical');
    fireEvent.change(field, { target: { value: '14' } });
    fireEvent.click(screen.getByRole('button', { name: 'Set these targets' }));
    await waitFor(() => expect(sent).toEqual([{ path: '/api/report/carry-targets', body: { days: { CRITICAL: 14, HIGH: 30 } } }]));
  });

  it('says that nothing is counted before the first night', async () => {
    answers['/api/report/time-to-carry'] = { from: '2026-09-01', populations: [], ratings: [], missed: [] };
    answers['/api/report/carry-targets'] = { days: {} };
    show(<TimeToCarry />);
    expect(await screen.findByText(/none is yet/)).toBeTruthy();
    expect(text()).toContain('No update was published in that time.');
  });
});

describe('what is known to be exploited', () => {
  it('stands with its public due day, and where it is open', async () => {
    answers['/api/report/exploited'] = [
      {
        cve: 'CVE-2026-9000001',
        added: '2026-11-20',
        words: '',
        asked: 'Apply it.',
        due: '2026-11-27',
        daysLeft: -3,
        ransomware: true,
        closing: ['LNT-1'],
        concerned: 9,
        open: { count: 4, names: ['k1', 'k2', 'k3', 'k4'] },
        notAffected: 1,
        unknown: 2,
        parts: [{ population: 'kiosks', name: 'Ticket kiosks', owner: '', inPopulation: 4, withheld: 3 }],
      },
    ] satisfies Schemas['ExploitedRow'][];
    show(<Exploited />);
    expect(await screen.findByText('3 days past')).toBeTruthy();
    expect(text()).toContain('1 of 1 vulnerability open');
    expect(text()).toContain('used by ransomware');
    expect(text()).toContain('Ticket kiosks: 4, withheld from 3');
    expect(text()).toContain('2 of them not heard of lately');
    expect(text()).toContain('1 other host not affected, by a note');
  });
});

describe('what is withheld', () => {
  it('stands by reason, by who answers for it, and by age', async () => {
    const sum = { decisions: 1, updates: 1, pairs: 171, oldest: '2026-11-07T00:00:00Z', nextEnd: '2026-12-29T00:00:00Z' };
    answers['/api/report/withheld'] = {
      byReason: [{ reason: 'KNOWN_ISSUE', sum }],
      byOwner: [{ owner: 'M. Aldane', sum }],
      rows: [
        {
          number: 4,
          type: 'defer',
          about: 'LNT-3042',
          title: 'Card reader agent',
          population: 'Ticket kiosks',
          hosts: 171,
          reasons: ['KNOWN_ISSUE'],
          words: 'readers are lost',
          owner: 'M. Aldane',
          since: '2026-11-07T00:00:00Z',
          days: 23,
          end: '2026-12-29T00:00:00Z',
        },
      ],
    } satisfies Schemas['WithheldView'];
    show(<Withheld />);
    expect(await screen.findByText('deferral of LNT-3042 for Ticket kiosks')).toBeTruthy();
    expect(text()).toContain('known issue; readers are lost');
    expect(text()).toContain('23 days');
  });
});

describe('what was forced', () => {
  it('says which forecast was wrong, and where none was kept', async () => {
    const row: Schemas['ForcedRow'] = {
      number: 7,
      update: 'LNT-1',
      title: 'Lantern',
      population: 'Ticket kiosks',
      author: 'M. Aldane',
      since: '2026-11-10T00:00:00Z',
      due: '2026-11-20T00:00:00Z',
      hosts: 100,
      have: 60,
      failed: { count: 1, names: ['k9'] },
      overdue: [
        { why: 'SILENT', hosts: { count: 30, names: ['k1'] } },
        { why: 'SPACE', hosts: { count: 9, names: ['k2'] } },
      ],
      waiting: 0,
      gone: 0,
      foreseen: 98,
      forecastWrong: true,
    };
    const { foreseen: _, ...older } = row;
    answers['/api/report/forced'] = [row, { ...older, number: 6, forecastWrong: false }];
    show(<Forced />);
    expect(await screen.findByText('98')).toBeTruthy();
    expect(text()).toContain('2 forces in ninety days; 1 forecast wrong');
    expect(text()).toContain('not kept');
    expect(text()).toContain('30 silent too long: somebody has to look at them');
  });
});

describe('the sheet of a verdict', () => {
  const sheet: Schemas['SheetView'] = {
    number: 7,
    update: { id: 'LNT-1', title: 'Lantern', vendor: 'Lantern', kind: 'SECURITY', rating: 'HIGH', present: true },
    revision: '2',
    type: 'FORCE',
    letGo: false,
    population: 'kiosks',
    populationName: 'Ticket kiosks',
    timeZone: 'Z',
    where: 'site = AUK',
    createdAt: '2026-11-10T08:00:00Z',
    author: 'M. Aldane',
    reasons: ['EXPLOITED'],
    words: '',
    end: '2026-11-20T00:00:00Z',
    stands: true,
    delivery: { ends: [], allowanceDays: 0, outsideWindows: false, removes: false },
    stood: {
      stood: {
        rating: 'HIGH',
        cues: [{ type: 'NEW', raised: '2026-11-09T00:00:00Z', about: '', hosts: 3, open: 3 }],
        exploited: ['CVE-2026-9000001'],
        tried: 12,
        failed: 2,
        issues: [],
        weighed: {
          lacking: 100,
          exposure: 63.3,
          hazard: { low: 1, middle: 7.4, high: 21.6 },
          usual: 1.2,
          tilt: { low: 0, middle: 1, high: 2 },
          suggestion: 'FORCE',
        },
      },
      foreseen: {
        carrying: 71,
        decided: 100,
        claimed: 0,
        unknown: 2,
        otherSupply: 0,
        inBusyHours: 4,
        late: 0,
        dueLater: 0,
        silent: 0,
        byOthers: 0,
        notForeseen: 0,
        foresight: { curve: [{ at: '2026-11-11T00:00:00Z', hosts: 50 }] },
        leftOpen: [],
        hostDays: 0,
      },
    },
    became: {
      hosts: 100,
      states: { ...NO_HOSTS, carries: 60, missing: 40 },
      gone: 0,
      failedSince: { count: 0, names: [] },
      foreseen: 98,
      have: 60,
      forecastWrong: true,
    },
    since: [],
    at: NOW.toISOString(),
  };

  it('says the sentence, how the case stood, what was foreseen, and what then happened', () => {
    show(<SheetParts sheet={sheet} now={NOW} />);
    expect(text()).toContain('Force LNT-1 for Ticket kiosks where site = AUK, due Thu 19 Nov, because exploited.');
    expect(text()).toContain('12 hosts had tried it, 2 of them failed.');
    expect(text()).toContain('exposure 63.3, hazard 7.40 [1.00, 21.6]');
    expect(text()).toContain('In force for 100 hosts; 71 had it already.');
    expect(text()).toContain('4 hosts in busy hours, because it is due.');
    expect(text()).toContain('60 have it; 98 were foreseen to have it by now: the forecast was wrong.');
  });

  it('says where nothing was kept', () => {
    const { stood: _, ...older } = sheet;
    show(<SheetParts sheet={older} now={NOW} />);
    expect(text()).toContain('was not kept');
    expect(text()).not.toContain('As the case stood');
  });
});
