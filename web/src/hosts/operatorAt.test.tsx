import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, render, screen } from '@testing-library/react';
import { MemoryRouter } from 'react-router';
import { afterEach, expect, it } from 'vitest';
import type { OperatorWork } from '../words/operators';
import { OperatorAt } from './OperatorAt';

const slot = { from: '2026-12-13T02:00:00Z', until: '2026-12-13T05:00:00Z' };
const work = {
  update: 'TRN-1',
  zone: 'Z',
  match: { clause: 'VERDICT', effect: 'BY_OPERATOR', source: 7 },
  hosts: [
    { host: 'db-1', standing: 'AGREED', late: true, due: '2026-12-10T00:00:00Z', lastReport: '2026-12-10T08:00:00Z', said: { slot } },
    { host: 'db-2', standing: 'NO_SLOT', late: false, lastReport: '2026-12-10T08:00:00Z' },
  ],
} as unknown as OperatorWork;

function shown(name: string) {
  const client = new QueryClient({ defaultOptions: { queries: { staleTime: Number.POSITIVE_INFINITY } } });
  client.setQueryData(['operator work', undefined], [work]);
  render(
    <QueryClientProvider client={client}>
      <MemoryRouter>
        <OperatorAt name={name} now={new Date('2026-12-10T09:00:00Z')} />
      </MemoryRouter>
    </QueryClientProvider>,
  );
}

afterEach(cleanup);

it('tells how far the operator is with this host, and where it is late', () => {
  shown('db-1');
  expect(screen.getByRole('region', { name: 'By operator' }).textContent).toContain(
    'TRN-1: agreed for Sun 13 Dec 02:00 to 05:00, was asked for by Wed 9 Dec',
  );
  expect(screen.getByText(/^agreed for/).className).toBe('strong');
});

it('says nothing where there is nothing to do by hand', () => {
  shown('db-3');
  expect(screen.queryByRole('region')).toBeNull();
});
