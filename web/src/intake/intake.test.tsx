import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react';
import { App } from 'antd';
import type { ReactNode } from 'react';
import { MemoryRouter } from 'react-router';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { Schemas } from '../api/client';
import { Bring } from './Bring';
import { isLate, lateWords } from './Feeds';
import { HostTableDialog } from './HostTableDialog';
import { ReadOtherwise } from './ReadOtherwise';
import { TryAgain } from './TryAgain';
import { UnreadProducts } from './UnreadProducts';

const sent: { path: string; headers: Headers; form: FormData | undefined; body: string }[] = [];
let answers: Record<string, () => unknown> = {};

function show(what: ReactNode) {
  const client = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  return render(
    <QueryClientProvider client={client}>
      <App>{what}</App>
    </QueryClientProvider>,
  );
}

const result: Schemas['IntakeResult'] = { number: 1, name: 'a', subject: 'A-1', outcome: 'ACCEPTED', problems: [] };

beforeEach(() => {
  sent.length = 0;
  answers = {};
  vi.stubGlobal(
    'ResizeObserver',
    class {
      observe() {}
      unobserve() {}
      disconnect() {}
    },
  );
  vi.stubGlobal('fetch', async (input: Request | string, init?: RequestInit) => {
    const path = typeof input === 'string' ? input : new URL(input.url).pathname;
    const headers = new Headers(typeof input === 'string' ? init?.headers : input.headers);
    const form = init?.body instanceof FormData ? init.body : undefined;
    sent.push({ path, headers, form, body: typeof input === 'string' ? '' : await input.text() });
    return new Response(JSON.stringify(answers[path]?.() ?? []), { status: 200, headers: { 'Content-Type': 'application/json' } });
  });
});

afterEach(cleanup);

describe('bringing documents in', () => {
  const choose = (...files: File[]) => fireEvent.change(screen.getByLabelText('Files to bring in'), { target: { files } });

  it('sends many in batches, each with a key of its own, and says how they fared', async () => {
    answers['/api/documents'] = () => [...(sent[sent.length - 1]?.form?.getAll('files') ?? [])].map(() => result);
    show(<Bring namespaces={[]} />);
    choose(...Array.from({ length: 45 }, (_, i) => new File(['{}'], `${i}.json`)));
    expect(await screen.findByText('45 documents read.')).toBeTruthy();
    const batches = sent.filter((s) => s.path === '/api/documents');
    expect(batches.map((b) => b.form?.getAll('files').length)).toEqual([20, 20, 5]);
    expect(new Set(batches.map((b) => b.headers.get('Idempotency-Key'))).size).toBe(3);
  });

  it('keeps the index of a repository with what it names, and tells whose packages they are', async () => {
    answers['/api/documents'] = () => [result];
    show(<Bring namespaces={['tarn']} />);
    fireEvent.click(screen.getByText('rpm updateinfo: whose packages?'));
    fireEvent.change(screen.getByLabelText('Namespace of the packages'), { target: { value: 'tarn' } });
    choose(...Array.from({ length: 25 }, (_, i) => new File(['x'], i === 0 ? 'repomd.xml' : `${i}.xml`)));
    await waitFor(() => expect(sent.filter((s) => s.path === '/api/documents')).toHaveLength(1));
    expect(sent[0]?.form?.getAll('files')).toHaveLength(25);
    expect(sent[0]?.form?.get('namespace')).toBe('tarn');
  });

  it('does not send what is too long', async () => {
    show(<Bring namespaces={[]} />);
    const large = new File(['x'], 'large.json');
    Object.defineProperty(large, 'size', { value: 65 * 1024 * 1024 });
    choose(large);
    expect(await screen.findByText('large.json was not sent: it is longer than 64 MB.')).toBeTruthy();
    expect(sent).toHaveLength(0);
  });
});

describe('a table of hosts', () => {
  const preview: Schemas['Preview'] = {
    used: { Machine: 'host', Landing: 'trait landing' },
    types: { Landing: 'TEXT' },
    firstRows: [['ksk-1', 'fell']],
    rows: 3,
    hosts: 2,
    wholeReports: false,
    problems: [{ place: 'line 4', reason: 'ksk-1 stands in line 2 already; that row is taken' }],
  };

  it('is shown before it is taken, and taken as its columns were matched', async () => {
    answers['/api/documents/preview'] = () => preview;
    answers['/api/documents'] = () => [{ ...result, subject: '2 hosts' }];
    const close = vi.fn();
    show(<HostTableDialog file={new File(['Machine,Landing'], 'hosts.csv')} close={close} />);
    expect(await screen.findByText('Each row adds traits to its host.', { exact: false })).toBeTruthy();
    expect(screen.getByLabelText('What is wrong').textContent).toContain('line 4 ksk-1 stands in line 2 already');
    fireEvent.change(screen.getByLabelText('What the column Landing is'), { target: { value: 'trait site' } });
    await waitFor(() => expect(JSON.parse(String(sent[sent.length - 1]?.form?.get('columns')))).toEqual({ Landing: 'trait site' }));
    const take = screen.getByText('Take 2 hosts of 3 rows').closest('button') as HTMLButtonElement;
    await waitFor(() => expect(take.disabled).toBe(false));
    fireEvent.click(take);
    await waitFor(() => expect(close).toHaveBeenCalled());
    expect(sent.find((s) => s.path === '/api/documents')?.form?.get('columns')).toBe('{"Landing":"trait site"}');
  });

  it('cannot be taken while no column is the host', async () => {
    answers['/api/documents/preview'] = () => ({
      ...preview,
      hosts: 0,
      problems: [{ place: 'line 1', reason: 'no column is the name of the host' }],
    });
    show(<HostTableDialog file={new File(['a,b'], 'x.csv')} close={() => {}} />);
    expect(await screen.findByText('It cannot be taken so:')).toBeTruthy();
    expect((screen.getByText('Take 0 hosts of 3 rows').closest('button') as HTMLButtonElement).disabled).toBe(true);
  });
});

describe('a refused document', () => {
  it('is tried again with the namespace that was missing', async () => {
    answers['/api/documents/9/retries'] = () => result;
    const document: Schemas['Document'] = {
      number: 9,
      name: 'updateinfo.xml',
      subject: '',
      revision: '',
      outcome: 'REJECTED',
      received: '2026-11-24T05:00:00Z',
      sender: 'M. Aldane',
      kept: true,
      distrusted: false,
      problems: [{ place: '', reason: 'name the namespace of their package URLs' }],
    };
    show(<TryAgain document={document} namespaces={['tarn', 'rill']} />);
    const button = screen.getByText('Try again').closest('button') as HTMLButtonElement;
    expect(button.disabled).toBe(true);
    fireEvent.change(screen.getByLabelText('Namespace of the packages'), { target: { value: 'rill' } });
    fireEvent.click(button);
    expect(await screen.findByText('updateinfo.xml was taken.')).toBeTruthy();
    expect(JSON.parse(sent.find((s) => s.path === '/api/documents/9/retries')?.body ?? '{}').namespace).toBe('rill');
  });
});

describe('documents that are read otherwise now', () => {
  const otherwise: Schemas['ReadOtherwise'] = {
    number: 7,
    name: 'fth-7.json',
    formatTitle: 'CSAF 2.0 advisory',
    subject: 'FTH-7',
    differences: [{ subject: 'FTH-7', part: 'fixes', before: 'desk below 2.0', now: 'desk below 2.1' }],
    more: 0,
  };

  it('shows nothing while there are none', async () => {
    const { container } = show(<ReadOtherwise maySettle />);
    await waitFor(() => expect(sent).toHaveLength(1));
    expect(container.querySelector('section')).toBeNull();
  });

  it('says how each counts and how it is read, and lets it count as read now', async () => {
    answers['/api/documents/readings'] = () => [otherwise];
    show(<ReadOtherwise maySettle />);
    expect(await screen.findByText('desk below 2.0')).toBeTruthy();
    expect(screen.getByText('desk below 2.1')).toBeTruthy();
    fireEvent.click(screen.getByText('Count it as read now'));
    await waitFor(() => expect(sent.find((s) => s.path === '/api/documents/7/readings')?.body).toBe('{"asReadNow":true}'));
  });

  it('does not offer to count what cannot be read any more, and offers nothing to who may not settle it', async () => {
    answers['/api/documents/readings'] = () => [{ ...otherwise, differences: [], refused: 'the version is missing' }];
    show(<ReadOtherwise maySettle />);
    expect(await screen.findByText(/It cannot be read any more: the version is missing/)).toBeTruthy();
    expect(screen.queryByText('Count it as read now')).toBeNull();
    expect(screen.getByText('Keep it as it was')).toBeTruthy();
    cleanup();
    show(<ReadOtherwise maySettle={false} />);
    expect(await screen.findByText(/It cannot be read any more/)).toBeTruthy();
    expect(screen.queryByText('Keep it as it was')).toBeNull();
  });
});

describe('products that could not be read', () => {
  const vendor: Schemas['UnreadOfVendor'] = {
    vendor: 'Halyard Works',
    updates: ['HLY-1'],
    packagesOf: ['pkg:rpm/tarn/*'],
    products: [
      {
        name: 'Harbour Browser',
        versions: ['Harbour Browser 118.3'],
        isPackage: false,
        candidates: ['pkg:generic/harbour-browser'],
        reason: 'it has no package URL',
        updates: ['HLY-1'],
      },
    ],
  };
  const read: Schemas['ReadWith'] = {
    update: 'HLY-1',
    title: 'Harbour',
    products: ['pkg:generic/harbour-browser'],
    unread: 0,
    lacking: 453,
    having: 0,
  };
  const open = (mayMap: boolean, asked?: string) =>
    show(
      <MemoryRouter>
        <UnreadProducts mayMap={mayMap} vendor={asked} />
      </MemoryRouter>,
    );

  beforeEach(() => {
    answers['/api/unread-products'] = () => [vendor];
    answers['/api/product-mappings/preview'] = () => [read];
    answers['/api/product-mappings'] = () => [];
  });

  it('leads from the name to the hosts with one press on what hosts report, and one to use it', async () => {
    open(true, 'Halyard Works');
    fireEvent.click(await screen.findByText('pkg:generic/harbour-browser'));
    expect(await screen.findByText('453 hosts lack it')).toBeTruthy();
    fireEvent.click(screen.getByText('Use it for 1 advisory'));
    await waitFor(() => expect(sent.some((s) => s.path === '/api/product-mappings' && s.body !== '')).toBe(true));
    expect(JSON.parse(sent.find((s) => s.path === '/api/product-mappings' && s.body !== '')?.body ?? '')).toEqual({
      vendor: 'Halyard Works',
      how: 'NAME',
      pattern: 'Harbour Browser',
      product: 'pkg:generic/harbour-browser',
    });
  });

  it('takes that no host here has it for an answer', async () => {
    open(true, 'Halyard Works');
    fireEvent.click(await screen.findByText('No host here has it'));
    await waitFor(() => expect(sent.some((s) => s.path === '/api/product-mappings' && s.body !== '')).toBe(true));
    expect(JSON.parse(sent.find((s) => s.path === '/api/product-mappings' && s.body !== '')?.body ?? '')).not.toHaveProperty('product');
  });

  it('offers to read names of packages with one press', async () => {
    open(true);
    fireEvent.click(await screen.findByText('Read the names as packages: pkg:rpm/tarn/*'));
    expect(await screen.findByText('453 hosts lack it')).toBeTruthy();
    expect(screen.getByLabelText('Package URL')).toHaveProperty('value', 'pkg:rpm/tarn/*');
  });

  it('shows a reader what is not read, and lets nobody else say what it is', async () => {
    open(false);
    expect(await screen.findByText('Harbour Browser')).toBeTruthy();
    expect(screen.queryByText('Say what it is')).toBeNull();
  });
});

describe('a feed', () => {
  const NOW = new Date('2026-11-24T12:00:00Z');
  const feed = (part: Partial<Schemas['FeedView']>): Schemas['FeedView'] => ({
    name: 'Scores',
    kind: 'DOCUMENT',
    address: 'https://scores.example/daily',
    everyMinutes: 60,
    author: 'k.strand',
    outcome: 'taken',
    failures: 0,
    due: '2026-11-24T12:30:00Z',
    formats: [],
    ...part,
  });

  it.each([
    [{ tried: '2026-11-24T11:30:00Z', succeeded: '2026-11-24T11:30:00Z' }, false],
    [{ tried: '2026-11-24T11:30:00Z', succeeded: '2026-11-24T10:30:00Z', failures: 1 }, false],
    [{ tried: '2026-11-24T11:30:00Z', succeeded: '2026-11-24T09:30:00Z', failures: 3, outcome: 'no answer' }, true],
    [{ tried: '2026-11-24T11:30:00Z', failures: 1, outcome: 'no answer' }, true],
    [{ due: '2026-11-24T11:30:00Z' }, false],
    [{ due: '2026-11-24T10:30:00Z' }, true],
  ])('is late once it has brought nothing for two of its rounds: %j', (part, late) => {
    expect(isLate(feed(part), NOW)).toBe(late);
  });

  it('says since when, and why', () => {
    expect(
      lateWords(feed({ tried: '2026-11-24T11:30:00Z', succeeded: '2026-11-21T12:00:00Z', failures: 3, outcome: 'no answer' }), NOW),
    ).toBe('nothing has come for 3 days: no answer (3 tries in a row)');
    expect(lateWords(feed({ due: '2026-11-24T10:30:00Z' }), NOW)).toBe('nothing has ever come, and it was not tried');
  });
});
