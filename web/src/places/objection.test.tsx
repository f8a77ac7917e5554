import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react';
import { App } from 'antd';
import { MemoryRouter } from 'react-router';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { Schemas } from '../api/client';
import Objection from './Objection';

const over: Schemas['OverriddenView'] = {
  force: 12,
  update: 'LNT-7000',
  title: 'Lantern Desktop 7',
  population: 'Ticket kiosks',
  timeZone: 'Z',
  due: '2126-12-07T00:00:00Z',
  author: 'M. Aldane',
  reasons: ['EXPOSED'],
  words: '',
  exception: 3,
  where: 'name = ksk-171',
  until: '2126-12-20T00:00:00Z',
  reason: 'not certified',
  measure: '',
  owner: 'S. Orrin',
  hosts: { count: 1, names: ['ksk-171'] },
  mayObject: true,
  opensCase: false,
  objections: [],
};

describe('a force that goes over an exception', () => {
  let answer: unknown = over;
  const sent: string[] = [];
  beforeEach(() => {
    answer = over;
    sent.length = 0;
    vi.stubGlobal(
      'ResizeObserver',
      class {
        observe() {}
        unobserve() {}
        disconnect() {}
      },
    );
    vi.stubGlobal('fetch', async (request: Request) => {
      if (request.method !== 'GET') {
        sent.push(await request.text());
      }
      return new Response(JSON.stringify(request.method === 'GET' ? answer : { number: 5, undo: '/api/objections/5' }), {
        status: request.method === 'GET' ? 200 : 201,
        headers: { 'Content-Type': 'application/json' },
      });
    });
  });
  afterEach(() => {
    cleanup();
    vi.unstubAllGlobals();
  });
  const show = (path = '/objection?force=12&exception=3') =>
    render(
      <QueryClientProvider client={new QueryClient()}>
        <App>
          <MemoryRouter initialEntries={[path]}>
            <Objection />
          </MemoryRouter>
        </App>
      </QueryClientProvider>,
    );

  it('is read and objected to by whoever answers for it', async () => {
    show();
    const words = await screen.findByLabelText('What is against it', {}, { timeout: 60_000 });
    expect(document.body.textContent).toContain('Force Lantern Desktop 7 for Ticket kiosks due');
    expect(screen.queryByRole('link', { name: 'Lantern Desktop 7' })).toBeNull();
    expect((screen.getByRole('button', { name: 'Object' }) as HTMLButtonElement).disabled).toBe(true);
    fireEvent.change(words, { target: { value: ' the certificate is lost ' } });
    fireEvent.keyDown(words, { key: 'Enter', ctrlKey: true });
    await waitFor(() => expect(sent).toHaveLength(1), { timeout: 60_000 });
    expect(JSON.parse(sent[0] ?? '')).toEqual({ force: 12, exception: 3, words: 'the certificate is lost' });
  });

  it('says whose matter it is to anybody else, and shows what was said', async () => {
    answer = {
      ...over,
      mayObject: false,
      opensCase: true,
      objections: [{ number: 5, words: 'the certificate is lost', author: 'S. Orrin', createdAt: '2026-11-29T08:00:00Z', yours: false }],
    };
    show();
    await screen.findByRole('link', { name: 'Lantern Desktop 7' }, { timeout: 60_000 });
    expect(document.body.textContent).toContain('S. Orrin, who answers for the exception, may object.');
    expect(document.body.textContent).toContain('They hold nothing back by themselves');
    expect(screen.queryByText('Take back')).toBeNull();
  });

  it('an address without numbers is no force', () => {
    show('/objection?force=twelve');
    expect(document.body.textContent).toContain('its number cannot be read');
  });
});
