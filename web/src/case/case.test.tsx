import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react';
import { App as AntApp } from 'antd';
import { type ReactNode, useState } from 'react';
import { MemoryRouter } from 'react-router';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { Schemas } from '../api/client';
import { deferredUntil, type VerdictType, verdictTypeOf } from '../decisions/useVerdictDraft';
import { DayPart } from '../frame/DayPart';
import { useAddress } from '../frame/useAddress';
import { isoDay } from '../words/dates';
import { NO_HOSTS } from '../words/states';
import { Consequence } from './Consequence';
import { changing, sentences } from './changing';
import { Parts } from './DeliveryParts';
import { Facts, rangeWords } from './Facts';
import { caseView, hosts, NOW, population, verdict, worded } from './fixtures';
import { PopulationRows } from './PopulationRows';
import { heaviest, idsOf, rowsOf } from './rows';
import { VerdictSentence } from './VerdictSentence';

function show(children: ReactNode, at = '/') {
  return render(
    <QueryClientProvider client={new QueryClient({ defaultOptions: { queries: { retry: false } } })}>
      <MemoryRouter initialEntries={[at]}>
        <AntApp>{children}</AntApp>
      </MemoryRouter>
    </QueryClientProvider>,
  );
}

const text = () => document.body.textContent?.replace(/\s+/g, ' ') ?? '';

beforeEach(() => {
  // The components ask for the size of the window, which the test's browser does not know.
  vi.stubGlobal('matchMedia', () => ({
    matches: false,
    addListener: () => {},
    removeListener: () => {},
    addEventListener: () => {},
    removeEventListener: () => {},
  }));
  Element.prototype.scrollIntoView = () => {};
});

afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

describe('a verdict that is changed', () => {
  const both = [verdict(7), verdict(8, { population: 'tablets' })];
  it('is worded with all that was handed down with it, to end as it does or on another day', () => {
    const page = caseView({ verdicts: both });
    expect(changing(page, 8, null)).toMatchObject({
      verdict: 'BLOCK',
      for: 'kiosks,tablets',
      until: '2026-12-08',
      because: 'COMPATIBILITY',
      words: 'printer',
      replaces: '7,8',
      change: undefined,
    });
    expect(changing(page, 7, '2026-12-20').until).toBe('2026-12-20');
  });
  it('keeps how it reaches its hosts', () => {
    const delivery = {
      ends: ['2026-12-03T00:00:00Z', '2026-12-06T00:00:00Z'],
      byOperator: { checklist: ['stop it', 'start it'], order: ['k1'] },
      allowanceDays: 2,
      outsideWindows: true,
      removes: false,
    };
    expect(changing(caseView({ verdicts: [verdict(7, { type: 'FORCE', delivery })] }), 7, null)).toMatchObject({
      until: '2026-12-02',
      parts: '2',
      apart: '3',
      away: '2',
      outside: 'yes',
      who: 'operator',
      steps: 'stop it\nstart it',
      order: 'k1',
    });
  });
  it('is none that has ended, a pilot, or what was let go', () => {
    const gone = { change: undefined, until: undefined };
    expect(changing(caseView({ verdicts: [verdict(7, { stands: false })] }), 7, '2026-12-20')).toEqual(gone);
    expect(changing(caseView({ verdicts: [verdict(7, { type: 'PILOT' })] }), 7, null)).toEqual(gone);
    expect(changing(caseView({ verdicts: [verdict(7, { type: 'DEFER', end: '2026-11-20T05:00:00Z' })] }), 7, null)).toEqual(gone);
    expect(changing(caseView(), 99, null)).toEqual(gone);
  });
});

describe('the populations of a case', () => {
  const rows = (page = caseView(), toggle = vi.fn()) => (
    <PopulationRows
      page={page}
      rows={rowsOf(page, false)}
      at={0}
      chosen={['tablets']}
      now={NOW}
      point={() => {}}
      toggle={toggle}
      each={false}
      showEach={() => {}}
      weights={[10, 3, 1, 0.25]}
      weighed={undefined}
      weigh={() => {}}
    />
  );
  it('say who lacks it and what holds', () => {
    show(rows());
    expect(text()).toContain('Ticket kiosks tier 2');
    expect(text()).toContain('3 of 8, 5 lack');
    expect(text()).toContain('withheld by the standing rule until Thu 26 Nov 00:36');
    expect(text()).toContain('every host carries it');
  });
  it('can be chosen where hosts lack it', () => {
    const toggle = vi.fn();
    show(rows(caseView(), toggle));
    expect(screen.queryByLabelText('Choose Proving bench')).toBeNull();
    expect((screen.getByLabelText('Choose Crew tablets') as HTMLInputElement).checked).toBe(true);
    fireEvent.click(screen.getByLabelText('Choose Ticket kiosks'));
    expect(toggle).toHaveBeenCalledWith(expect.objectContaining({ id: 'kiosks' }));
  });
  it('with the same answer stand together under one beam, unless each is wanted by itself', () => {
    const alike: Schemas['AlikeRow'] = {
      populations: ['kiosks', 'tablets'],
      hosts: 16,
      states: { ...NO_HOSTS, carries: 9, missing: 7 },
      lacking: 7,
      lackingUnknown: 0,
      groups: population('kiosks', 'Ticket kiosks', 7).groups,
      beam: { exposure: 4.5, hazard: { middle: 1.5, low: 1, high: 2 }, usual: 0.5, tilt: { middle: 1.1, low: 0.8, high: 1.5 } },
    };
    const page = caseView({ alike: [alike], beam: { ...caseView().beam, population: 'tablets' } });
    expect(rowsOf(page, false).map(idsOf)).toEqual([['kiosks', 'tablets'], ['bench']]);
    expect(rowsOf(page, true).map(idsOf)).toEqual([['kiosks'], ['tablets'], ['bench']]);
    expect(heaviest(page, rowsOf(page, false))).toBe(0);
    expect(heaviest(page, rowsOf(page, true))).toBe(1);
    show(rows(page));
    expect(text()).toContain('Ticket kiosks, Crew tablets tier 2');
    expect(text()).toContain('9 of 16, 7 lack');
    expect((screen.getByLabelText('Choose Ticket kiosks, Crew tablets') as HTMLInputElement).checked).toBe(false);
  });
  it('name apart those that it is not for, and hosts in no population', () => {
    const notFor = population('gates', 'Gate controllers', 0, {
      hosts: 58,
      states: { ...NO_HOSTS, carries: 0, partly: 0, missing: 0, unknown: 0, notApplicable: 58 },
    });
    const unassigned = population('none', 'In no population', 1, {
      groups: [{ match: { clause: 'STANDING_RULE', effect: 'WITHHELD' }, hosts: hosts('loan-04') }],
    });
    show(rows(caseView({ populations: [...caseView().populations, notFor, unassigned] })));
    expect(text()).toContain('Gate controllers: not applicable.');
    expect(screen.getByLabelText('Choose In no population')).toBeTruthy();
  });
  it('tell together who is withheld because of what the update contains', () => {
    const of = (source: number, end: string, host: string): Schemas['RulingGroupView'] => ({
      match: { clause: 'CONTAINS_EXCEPTED', effect: 'WITHHELD', source, end },
      hosts: hosts(host),
    });
    const split = population('kiosks', 'Ticket kiosks', 5, {
      groups: [
        { match: { clause: 'STANDING_RULE', effect: 'OFFERED' }, hosts: hosts('k3', 'k4', 'k5') },
        of(1, '2026-12-02T00:00:00Z', 'k1'),
        of(2, '2026-12-09T00:00:00Z', 'k2'),
      ],
    });
    show(rows(caseView({ populations: [split] })));
    expect(text()).toContain('2: withheld as what it contains, until judged, at most until Tue 8 Dec k1, k2');
  });
  it('count each answer where hosts of one population differ', () => {
    const split = population('kiosks', 'Ticket kiosks', 5, {
      groups: [
        {
          match: { clause: 'VERDICT', effect: 'WITHHELD', verdict: 'BLOCK', source: 1, end: '2026-12-09T00:00:00Z' },
          hosts: hosts('k1', 'k2', 'k3'),
        },
        { match: { clause: 'EXCEPTION', effect: 'OFFERED', source: 2, end: '2026-12-01T00:00:00Z' }, hosts: hosts('k4', 'k5') },
      ],
    });
    show(rows(caseView({ populations: [split] })));
    expect(text()).toContain('3: blocked until Tue 8 Dec');
    expect(text()).toContain('2: offered by exception until Mon 30 Nov k4, k5');
  });
});

describe('the consequence', () => {
  const lines = (type: VerdictType, part = {}, letGo = false) => {
    show(<Consequence page={caseView()} worded={[worded(part)]} type={type} letGo={letGo} now={NOW} />);
    return text();
  };
  it('of a block', () => {
    const said = lines('BLOCK');
    expect(said).toContain('5 hosts withheld until the end of Tue 8 Dec k1, k2, k3 and 2 more');
    expect(said).toContain('They are now withheld by the standing rule until Thu 26 Nov 00:36');
    expect(said).toContain('1 of them not heard from lately, judged by its last report k5');
    expect(said).toContain('3 hosts carry it already; this does not remove it');
    expect(said).toContain('This says nothing about LNT-1114, which supersedes it');
  });
  const told = (part: Partial<Schemas['WordedView']>, type: VerdictType) => {
    show(<Consequence page={caseView()} worded={[{ ...worded(), ...part }]} type={type} letGo={false} now={NOW} />);
    return text();
  };
  it('of what stays open, and what comes before the end', () => {
    const said = told(
      {
        leftOpen: {
          hostDays: 70.2,
          vulnerabilities: [
            { id: 'CVE-2026-9000001', contained: false, hosts: 5 },
            { id: 'CVE-2026-9000002', contained: true, hosts: 1 },
          ],
        },
        overtaken: '2026-12-01T00:00:00Z',
      },
      'BLOCK',
    );
    expect(said).toContain('Stays open, 70 host-days in all: CVE-2026-9000001 on 5 hosts; of what it contains CVE-2026-9000002 on 1 host.');
    expect(said).toContain('is to be expected about Tue 1 Dec, before this ends');
  });
  it('of a block that removes', () => {
    const removal = {
      hosts: hosts('k6', 'k7', 'k8'),
      lastDays: [{ day: '2026-12-04', hosts: hosts('k6') }],
      tooLate: hosts('k7'),
      unknown: hosts('k8'),
      earlier: 1,
    };
    const said = told({ removal }, 'BLOCK');
    expect(said).toContain('To be removed from 3 hosts; what 1 of them had before is known');
    expect(said).toContain('until the end of Fri 4 Dec: 1 host can k6');
    expect(said).toContain('1 host can remove it no longer k7');
    expect(said).toContain('1 host: nobody tells until when it can be removed there k8');
    expect(said).not.toContain('this does not remove it');
  });
  it('of a verdict in parts', () => {
    const parts = [
      { at: '2026-12-05T00:00:00Z', hosts: hosts('k1', 'k2') },
      { at: '2026-12-09T00:00:00Z', hosts: hosts('k3') },
    ];
    expect(told({ parts }, 'FORCE')).toContain('5 hosts due in 2 parts, the last by the end of Tue 8 Dec');
    cleanup();
    expect(told({ parts }, 'DEFER')).toContain('5 hosts offered in 2 parts, the last after Tue 8 Dec');
  });
  it('of a pilot that will answer too late', () => {
    expect(told({ expectedAnswer: '2026-12-10T12:00:00Z', slack: 'NONE' }, 'PILOT')).toContain(
      'if it goes as foreseen: after the answer day',
    );
    cleanup();
    const pilot = { expectedAnswer: '2026-12-01T12:00:00Z', end: '2026-12-05T00:00:00Z' };
    expect(told({ ...pilot, slack: 'ENOUGH', fewThere: { when: 'BEFORE_WEEKEND' } }, 'PILOT')).toContain(
      'if it goes as foreseen; the answer day is a Friday.',
    );
    cleanup();
    const quayDay = { when: 'ON_HOLIDAY', holiday: 'Quay Day' } as const;
    expect(told({ ...pilot, slack: 'UNDER_A_WORKING_DAY', fewThere: quayDay }, 'PILOT')).toContain(
      ': less than a working day before the others go on; the answer day is Quay Day, a holiday.',
    );
  });
  it('of a deferral whose end falls due by the rule, and comes as the weekend begins', () => {
    const said = told({ end: '2026-12-04T00:00:00Z', ruleDue: '2026-12-08T12:00:00Z', fewThere: { when: 'BEFORE_WEEKEND' } }, 'DEFER');
    expect(said).toContain('withheld until the end of Thu 3 Dec, then offered, due by the rule Tue 8 Dec 12:00; that begins on a Friday');
    cleanup();
    expect(told({ end: '2026-12-03T00:00:00Z' }, 'DEFER')).not.toContain('begins on');
    cleanup();
    const before = { when: 'BEFORE_HOLIDAY', holiday: 'Quay Day' } as const;
    expect(told({ end: '2026-12-03T00:00:00Z', fewThere: before }, 'DEFER')).toContain(
      '; that begins on the day before Quay Day, a holiday',
    );
  });
  it('of a deferral that begins before the rule would offer it', () => {
    const never = {
      ...worded(),
      broughtForward: [{ match: { clause: 'STANDING_RULE', effect: 'WITHHELD' } as const, hosts: hosts('k1', 'k2') }],
    };
    show(<Consequence page={caseView()} worded={[never]} type="DEFER" letGo={false} now={NOW} />);
    expect(text()).toContain('Brought forward: 2 hosts to which the rule never offers it without a verdict');
    cleanup();
    const later = {
      ...worded(),
      broughtForward: [{ match: { ...never.broughtForward[0]?.match, end: '2026-12-20T00:00:00Z' } as const, hosts: hosts('k1') }],
    };
    show(<Consequence page={caseView()} worded={[later as Schemas['WordedView']]} type="DEFER" letGo={false} now={NOW} />);
    expect(text()).toContain('Brought forward: 1 host to which the rule would offer it only after Sat 19 Dec');
  });
  it('of a force', () => {
    const said = lines('FORCE');
    expect(said).toContain('5 hosts offered now, due by the end of Tue 8 Dec');
    expect(said).not.toContain('stays open');
  });
  it('of letting it go', () => {
    expect(lines('DEFER', {}, true)).toContain('5 hosts offered from now on');
  });
  it('names what still holds elsewhere', () => {
    const claimed: Schemas['RulingGroupView'][] = [
      { match: { clause: 'EXCEPTION', effect: 'WITHHELD', source: 2, end: '2026-12-01T00:00:00Z' }, hosts: hosts('k1') },
    ];
    expect(lines('FORCE', { claimed, decided: hosts('k2') })).toContain(
      '1 host not reached: still withheld by exception until Mon 30 Nov k1',
    );
  });
  it('says when nothing matches', () => {
    expect(lines('BLOCK', { named: 0, decided: hosts(), before: [] })).toContain('no host there matches the narrowing');
  });
});

describe('the parts of a verdict', () => {
  it('have their hosts listed, and moved by name', async () => {
    // Pages of tests have no size to observe.
    vi.stubGlobal(
      'ResizeObserver',
      class {
        observe() {}
        unobserve() {}
        disconnect() {}
      },
    );
    const set = vi.fn();
    const parts = [
      { at: '2026-12-05T00:00:00Z', hosts: hosts('k1', 'k2') },
      { at: '2026-12-09T00:00:00Z', hosts: hosts('k3') },
    ];
    show(
      <Parts
        worded={[{ ...worded(), parts }]}
        type="DEFER"
        page={caseView()}
        search={new URLSearchParams('move=k3:2')}
        set={set}
        stop={() => {}}
        now={NOW}
      />,
    );
    expect(text()).toContain('after Fri 4 Dec: 2 hosts k1 and 1 more');
    fireEvent.click(screen.getByText('k1 and 1 more'));
    fireEvent.click(await screen.findByLabelText('to part 2: k2'));
    expect(set).toHaveBeenCalledWith({ move: 'k3:2,k2:2' });
    fireEvent.click(screen.getByText('Put 1 host back that you moved'));
    expect(set).toHaveBeenLastCalledWith({ move: undefined });
  });
});

describe('what was decided', () => {
  it('says how it reaches its hosts', () => {
    const delivery = {
      ends: ['2026-12-05T00:00:00Z', '2026-12-09T00:00:00Z'],
      byOperator: { checklist: ['close the till'], order: ['k2', 'k1'] },
      allowanceDays: 0,
      outsideWindows: false,
      removes: false,
    };
    show(
      <Facts
        page={caseView({ verdicts: [verdict(1, { type: 'DEFER', delivery })] })}
        now={NOW}
        analyst={false}
        dialog={undefined}
        open={() => {}}
        narrow={() => {}}
      />,
    );
    expect(text()).toContain('until Tue 8 Dec, in 2 parts, by operator.');
    expect(text()).toContain('close the tillFirst k2, then k1.');
  });
  it('is one sentence for the populations that were judged together', () => {
    const together = sentences([verdict(1), verdict(2, { population: 'tablets' }), verdict(3, { words: 'other' })]);
    expect(together.map((list) => list.map((v) => v.number))).toEqual([[1, 2], [3]]);
  });
  it('stands with its reason, its author and its end', () => {
    const page = caseView({
      verdicts: [verdict(1), verdict(2, { population: 'tablets' })],
      exceptions: [
        {
          number: 4,
          about: 'LNT-1107',
          hosts: 'name = k1',
          effect: 'WITHHELD',
          until: '2026-11-21T00:00:00Z',
          reason: 'season',
          owner: 'D. Orrin',
          measure: 'apart',
          author: 'M. Aldane',
          createdAt: '2026-11-01T00:00:00Z',
          stands: false,
        },
      ],
      acknowledgements: [
        { number: 5, author: 'M. Aldane', createdAt: '2026-11-23T10:00:00Z', populations: ['kiosks'], lookAgain: '2026-12-23T10:00:00Z' },
      ],
    });
    show(<Facts page={page} now={NOW} analyst={true} dialog={undefined} open={() => {}} narrow={() => {}} />);
    expect(text()).toContain(
      'blocked for Ticket kiosks, Crew tablets, until Tue 8 Dec. compatibility; printer. M. Aldane, Fri 20 Nov Change Take back',
    );
    expect(text()).toContain(
      'exception no. 4 on LNT-1107 where name = k1 until Fri 20 Nov. season; meanwhile apart. Owner D. Orrin; lapsed',
    );
    expect(text()).toContain('left to the rule for Ticket kiosks, looked at again Wed 23 Dec. M. Aldane, Mon 23 Nov 10:00 Take back');
    expect(text()).toContain('LNT-1101 → LNT-1107 → LNT-1114');
  });
  it('tells revisions, remedies, what is not affected and what brings it anyway', () => {
    const { update } = caseView();
    const page = caseView({
      foldedUnder: 'LNT-1114',
      contains: ['LNT-1101', 'LNT-1098'],
      update: {
        ...update,
        retraction: { type: 'WITHDRAWN', reason: 'It did not close it.' },
        revisions: [
          ...update.revisions,
          { revision: '2', revised: '2026-11-20T00:00:00Z', read: '2026-11-20T05:00:00Z', newFixes: true, words: 'Second track.' },
        ],
        remedies: [{ category: 'workaround', words: 'Switch it off.' }],
        statements: [
          { type: 'NOT_AFFECTED', vulnerability: 'CVE-2026-9000001', product: 'tools', version: '9', words: 'code not present' },
        ],
      },
    });
    show(<Facts page={page} now={NOW} analyst dialog={undefined} open={() => {}} narrow={() => {}} />);
    expect(text()).toContain('Stands under LNT-1114, which is released for the same hosts');
    expect(text()).toContain('Contains 2 earlier: LNT-1101, LNT-1098');
    expect(text()).toContain('Withdrawn by its vendorIt did not close it.');
    expect(text()).toContain('2, Fri 20 Nov: other fixes. Second track.');
    expect(text()).toContain('workaround: Switch it off.');
    expect(text()).toContain('tools 9: not affected, code not present (CVE-2026-9000001)');
  });
  it('names what it requires, who lacks it, and what those can take instead', () => {
    const requires = {
      all: [
        { words: 'lantern-loader 2.10 or later', lack: hosts('k1', 'k2') },
        { words: 'model K2 or K3', lack: hosts() },
      ],
      cannotTake: hosts('k1', 'k2'),
      instead: [{ update: 'LNT-6', title: 'Lantern 6.9', hosts: hosts('k1') }],
    };
    show(<Facts page={caseView({ requires })} now={NOW} analyst dialog={undefined} open={() => {}} narrow={() => {}} />);
    expect(text()).toContain('Requires 2 cannot take it');
    expect(text()).toContain('lantern-loader 2.10 or later: 2 hosts lack it');
    expect(text()).toMatch(/model K2 or K3(?!:)/);
    expect(text()).toContain('1 of them can take LNT-6 instead, the newest that it lacks');
    expect(text()).toContain('1 of them lacks nothing that it could take instead.');
  });
  it('names what it brings in and what brings it in', () => {
    const { update } = caseView();
    show(
      <Facts
        page={caseView({ update: { ...update, brings: ['LNT-1098', 'LNT-1101'], broughtBy: ['LNT-7000'] } })}
        now={NOW}
        analyst
        dialog={undefined}
        open={() => {}}
        narrow={() => {}}
      />,
    );
    expect(text()).toContain('Brings in, without superseding it: LNT-1098, LNT-1101');
    expect(text()).toContain('Brought in by: LNT-7000');
  });
  it('words every form of an affected range', () => {
    const range = { afterIntroduced: false, endIncluded: false };
    expect(rangeWords({ ...range, introduced: '6.0', end: '6.1' })).toBe('from 6.0 below 6.1');
    expect(rangeWords({ ...range, introduced: '6.0', afterIntroduced: true, end: '6.1', endIncluded: true })).toBe(
      'after 6.0 up to 6.1; no fixed version is known',
    );
    expect(rangeWords({ ...range, introduced: '6.0', end: '6.0', endIncluded: true })).toBe('only 6.0');
    expect(rangeWords(range)).toBe('all that follow; no fixed version is known');
  });
  it('cannot be taken back by a reader', () => {
    show(
      <Facts page={caseView({ verdicts: [verdict(1)] })} now={NOW} analyst={false} dialog={undefined} open={() => {}} narrow={() => {}} />,
    );
    expect(screen.queryByText('Take back')).toBeNull();
  });
});

describe('the verdict as a sentence', () => {
  const sent: { path: string; body: Record<string, unknown>; headers?: Headers }[] = [];
  let createdAt: [number, unknown] = [201, []];
  let answer: (body: Record<string, unknown>) => [number, unknown] = () => [200, [worded()]];

  function Sentence({ type }: { type: VerdictType }) {
    const [search, set] = useAddress();
    const populations = search.get('for')?.split(',') ?? [];
    const [version, setVersion] = useState('"v1"');
    return (
      <>
        <button type="button" onClick={() => setVersion('"v2"')}>
          read
        </button>
        <VerdictSentence
          page={caseView({ version })}
          type={type}
          populations={populations}
          search={search}
          set={set}
          stop={() => set({ verdict: undefined })}
          now={NOW}
        />
      </>
    );
  }

  beforeEach(() => {
    sent.length = 0;
    createdAt = [
      201,
      {
        verdicts: [{ number: 7, update: 'LNT-1107', population: 'kiosks', hosts: 5 }],
        undo: '/api/decisions?verdict=7',
      } satisfies Schemas['Committed'],
    ];
    answer = () => [200, [worded()]];
    vi.stubGlobal('fetch', async (request: Request) => {
      const body = (await request.json()) as Record<string, unknown>;
      const path = new URL(request.url).pathname;
      sent.push({ path, body, headers: request.headers });
      const [status, data] = path === '/api/verdicts' ? createdAt : answer(body);
      return new Response(JSON.stringify(data), { status: status as number, headers: { 'Content-Type': 'application/json' } });
    });
  });

  it('has sensible defaults, says its effect, and is handed down with one chord', async () => {
    show(<Sentence type="BLOCK" />, '/?for=kiosks');
    await waitFor(() => expect((screen.getByText('Block on 5 hosts').closest('button') as HTMLButtonElement).disabled).toBe(false));
    fireEvent.keyDown(document.body, { key: 'Enter', ctrlKey: true });
    await waitFor(() => expect(sent.some((s) => s.path === '/api/verdicts')).toBe(true));
    expect(sent.find((s) => s.path === '/api/verdicts')?.body).toMatchObject({
      update: 'LNT-1107',
      revision: '1',
      type: 'BLOCK',
      populations: ['kiosks'],
      until: '2026-12-08',
      reasons: ['UNTESTED'],
      overrides: [],
    });
  });

  it('tells who was overtaken, and is handed down again only when what the other decided was read', async () => {
    createdAt = [412, { detail: 'somebody decided on LNT-1107 while you were wording' }];
    show(<Sentence type="BLOCK" />, '/?for=kiosks');
    const button = (await screen.findByText('Block on 5 hosts')).closest('button') as HTMLButtonElement;
    await waitFor(() => expect(button.disabled).toBe(false));
    fireEvent.click(button);
    expect((await screen.findByRole('alert')).textContent).toContain('Not done: somebody decided on LNT-1107');
    expect(screen.getByRole('alert').textContent).toContain('is being read');
    expect(button.disabled).toBe(true);
    fireEvent.click(screen.getByText('read'));
    expect(screen.getByRole('alert').textContent).toContain('What is in force now is shown above');
    await waitFor(() => expect(button.disabled).toBe(false));
    fireEvent.click(button);
    await waitFor(() => expect(sent.filter((s) => s.path === '/api/verdicts')).toHaveLength(2));
    expect(sent.filter((s) => s.path === '/api/verdicts').map((s) => s.headers?.get('If-Match'))).toEqual(['"v1"', '"v2"']);
  });

  it('hands down several answers of one sentence together', async () => {
    answer = () => [200, [worded(), { ...worded(), answer: 1, population: 'tablets', populationName: 'Crew tablets' }]];
    const also = JSON.stringify([{ verdict: 'BLOCK', for: 'kiosks', where: 'reader = R2' }]);
    show(<Sentence type="FORCE" />, `/?for=tablets&away=2&also=${encodeURIComponent(also)}`);
    const button = (await screen.findByText('Block on 5 hosts, force on 5 hosts')).closest('button') as HTMLButtonElement;
    expect(text()).toContain('Block for Ticket kiosks where reader = R2 until Tue 8 Dec; block on 5 hosts');
    await waitFor(() => expect(button.disabled).toBe(false));
    fireEvent.click(button);
    await waitFor(() => expect(sent.some((s) => s.path === '/api/verdicts')).toBe(true));
    expect(sent.find((s) => s.path === '/api/verdicts')?.body).toMatchObject({
      type: 'BLOCK',
      populations: ['kiosks'],
      where: 'reader = R2',
      also: [{ type: 'FORCE', populations: ['tablets'], allowanceDays: 2 }],
    });
  });

  it('is proposed where it needs an approver, and says why', async () => {
    answer = (body) => ('until' in body ? [200, [{ ...worded(), grounds: [{ type: 'FORCES', tier: 1 }] }]] : [201, {}]);
    show(<Sentence type="FORCE" />, '/?for=kiosks');
    const button = (await screen.findByText('Propose: force on 5 hosts')).closest('button') as HTMLButtonElement;
    expect(text()).toContain('Needs an approver, because it forces hosts of tier 1');
    await waitFor(() => expect(button.disabled).toBe(false));
    answer = () => [201, { number: 3, lapsesAt: '2026-12-02T00:00:00Z', undo: '/api/decisions?proposal=3' } satisfies Schemas['Proposed']];
    fireEvent.click(button);
    await waitFor(() => expect(sent.some((s) => s.path === '/api/proposals')).toBe(true));
    expect(sent.some((s) => s.path === '/api/verdicts')).toBe(false);
  });

  it('words what the address says, and nothing else', () => {
    expect(verdictTypeOf('BLOCK')).toBe('BLOCK');
    expect(verdictTypeOf('block')).toBe('BLOCK');
    expect(verdictTypeOf('toString')).toBeUndefined();
    expect(verdictTypeOf(null)).toBeUndefined();
  });

  it('defers to no earlier day than the rule, unless somebody says so', () => {
    const page = caseView({
      populations: [
        population('kiosks', 'Ticket kiosks', 5, { offeredByRule: '2026-12-20T00:00:00Z' }),
        population('tablets', 'Crew tablets', 5, { offeredByRule: undefined }),
      ],
    });
    expect(deferredUntil(page, ['kiosks', 'tablets'], NOW)).toBe('2026-12-19');
    expect(deferredUntil(page, ['tablets'], NOW)).toBe(isoDay(NOW, 7));
  });
  it('is handed down once, however often the same sentence is sent', async () => {
    createdAt = [503, { detail: 'the server is being restarted' }];
    show(<Sentence type="BLOCK" />, '/?for=kiosks');
    const button = (await screen.findByText('Block on 5 hosts')).closest('button') as HTMLButtonElement;
    await waitFor(() => expect(button.disabled).toBe(false));
    fireEvent.click(button);
    await waitFor(() => expect(sent.filter((s) => s.path === '/api/verdicts')).toHaveLength(1));
    expect((await screen.findByRole('alert')).textContent).toContain('the server is being restarted');
    await waitFor(() => expect(button.disabled).toBe(false));
    fireEvent.keyDown(document.body, { key: 'Enter', ctrlKey: true });
    await waitFor(() => expect(sent.filter((s) => s.path === '/api/verdicts')).toHaveLength(2));
    const keys = sent.filter((s) => s.path === '/api/verdicts').map((s) => s.headers?.get('Idempotency-Key'));
    expect(keys[0]).toMatch(/^[0-9a-f]{32}$/);
    expect(keys[1]).toBe(keys[0]);
  });

  it('forgets a refusal when the sentence is worded anew', async () => {
    createdAt = [422, { detail: 'a block ends within a year' }];
    show(<Sentence type="BLOCK" />, '/?for=kiosks');
    const button = (await screen.findByText('Block on 5 hosts')).closest('button') as HTMLButtonElement;
    await waitFor(() => expect(button.disabled).toBe(false));
    fireEvent.click(button);
    expect((await screen.findByRole('alert')).textContent).toContain('within a year');
    expect(button.disabled).toBe(true);
    fireEvent.change(screen.getByLabelText('Reason in words'), { target: { value: 'spooler' } });
    await waitFor(() => expect(screen.queryByRole('alert')).toBeNull());
    await waitFor(() => expect(button.disabled).toBe(false));
  });

  it('never hands down what was not yet computed', async () => {
    show(<Sentence type="BLOCK" />, '/?for=kiosks');
    await waitFor(() => expect((screen.getByText('Block on 5 hosts').closest('button') as HTMLButtonElement).disabled).toBe(false));
    fireEvent.change(screen.getByLabelText('Narrowed to hosts where'), { target: { value: 'reader = R2' } });
    fireEvent.keyDown(document.body, { key: 'Enter', ctrlKey: true });
    expect(sent.some((s) => s.path === '/api/verdicts')).toBe(false);
    await waitFor(() => expect(sent[sent.length - 1]?.body.where).toBe('reader = R2'));
  });

  it('marks a fault where it is and keeps the button shut', async () => {
    answer = () => [422, { detail: 'expected a value, found the end, at character 9', field: 'where', position: 8 }];
    show(<Sentence type="BLOCK" />, '/?for=kiosks&where=reader+%3D');
    expect((await screen.findByRole('alert')).textContent).toContain('expected a value, found the end');
    expect((screen.getByText(/^Block on/).closest('button') as HTMLButtonElement).disabled).toBe(true);
  });

  it('wants a second press where every population is meant', async () => {
    show(<Sentence type="BLOCK" />, '/?for=kiosks,tablets');
    await waitFor(() => expect((screen.getByText('Block on 5 hosts').closest('button') as HTMLButtonElement).disabled).toBe(false));
    fireEvent.click(screen.getByText('Block on 5 hosts'));
    expect(text()).toContain('This is for every population that lacks it. Press again to hand it down.');
    expect(sent.some((s) => s.path === '/api/verdicts')).toBe(false);
    fireEvent.click(screen.getByText('Confirm: block on 5 hosts'));
    await waitFor(() => expect(sent.some((s) => s.path === '/api/verdicts')).toBe(true));
  });

  it('overrides a block only knowingly', async () => {
    const block: Schemas['RulingGroupView'][] = [
      { match: { clause: 'VERDICT', effect: 'WITHHELD', verdict: 'BLOCK', source: 3, end: '2026-12-09T00:00:00Z' }, hosts: hosts('k1') },
    ];
    answer = (body) => [
      200,
      [(body.overrides as number[]).includes(3) ? worded() : worded({ decided: hosts(), claimed: block, unknown: hosts() })],
    ];
    show(<Sentence type="FORCE" />, '/?for=kiosks');
    const box = await screen.findByRole('checkbox', { name: /Knowingly override 1 block/ });
    expect((screen.getByText('Force on 0 hosts').closest('button') as HTMLButtonElement).disabled).toBe(true);
    fireEvent.click(box);
    await waitFor(() => expect((screen.getByText('Force on 5 hosts').closest('button') as HTMLButtonElement).disabled).toBe(false));
  });

  it('lets an update go when it is deferred until today', async () => {
    show(<Sentence type="DEFER" />, '/?for=kiosks');
    fireEvent.click(await screen.findByText('Let it go now instead'));
    expect(await screen.findByText('Let it go on 5 hosts')).toBeTruthy();
    await waitFor(() => expect(sent[sent.length - 1]?.body.until).toBe('2026-11-24'));
  });
});

describe('a day in the sentence', () => {
  it('counts at each key as it is meant, and passes on what it cannot read', () => {
    const said: string[] = [];
    show(<DayPart label="Until" value="2026-12-14" now={NOW} change={(day) => said.push(day)} />);
    const input = screen.getByLabelText('Until') as HTMLInputElement;
    expect(input.value).toBe('Mon 14 Dec');
    for (const text of ['+14', 'Friday', 'no day', '']) {
      fireEvent.change(input, { target: { value: text } });
    }
    expect(said).toEqual(['2026-12-08', '2026-11-27', 'no day', ' ']);
    fireEvent.keyDown(input, { key: 'ArrowUp' });
    expect(said.at(-1)).toBe('2026-12-15');
  });
});
