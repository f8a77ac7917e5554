import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, fireEvent, render, screen } from '@testing-library/react';
import { App as AntApp } from 'antd';
import { useState } from 'react';
import { MemoryRouter } from 'react-router';
import { afterEach, expect, it, vi } from 'vitest';
import type { Schemas } from '../api/client';
import { Asked } from './Asked';

const NOW = new Date('2026-11-24T05:00:00Z');

afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

function Shown() {
  const [open, setOpen] = useState(false);
  return <Asked open={open} turn={setOpen} now={NOW} />;
}

function show(asked: Schemas['AskedHost'][]) {
  vi.stubGlobal('fetch', async () => new Response(JSON.stringify(asked), { status: 200, headers: { 'Content-Type': 'application/json' } }));
  return render(
    <QueryClientProvider client={new QueryClient()}>
      <MemoryRouter>
        <AntApp>
          <Shown />
        </AntApp>
      </MemoryRouter>
    </QueryClientProvider>,
  );
}

it('tells of each host that was asked whether it has answered, and what it told since', async () => {
  show([
    { host: 'k1', askedAt: '2026-11-24T04:00:00Z', askedBy: 'M. Aldane', happened: [] },
    {
      host: 'k2',
      askedAt: '2026-11-24T04:00:00Z',
      askedBy: 'M. Aldane',
      answeredAt: '2026-11-24T04:01:00Z',
      startedAt: '2026-11-24T04:40:00Z',
      happened: [
        { update: 'LNT-1107', what: 'DOWNLOADED', at: '2026-11-24T04:10:00Z' },
        { update: 'LNT-1107', what: 'FAILED', at: '2026-11-24T04:20:00Z', code: '0x7' },
      ],
    },
  ]);
  const section = await screen.findByRole('region', { name: 'Asked to report' });
  expect(section.textContent).toContain('1 of 2 hosts asked to report have answered');
  fireEvent.click(screen.getByRole('button', { name: /asked to report/ }));
  const rows = screen.getAllByRole('row').map((row) => row.textContent);
  expect(rows[1]).toContain('not yet');
  expect(rows[2]).toContain('downloaded LNT-1107');
  expect(rows[2]).toContain('failed LNT-1107');
  expect(rows[2]).toContain('0x7');
  expect(rows[2]).toContain('started anew');
});
