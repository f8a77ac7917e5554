import { QueryClient, QueryClientProvider, useQuery } from '@tanstack/react-query';
import { act, cleanup, render, waitFor } from '@testing-library/react';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { PREVIEW } from './topics';
import { eventsFlow, useEvents } from './useEvents';

/** A stream of events that the test tells. */
class Stream extends EventTarget {
  static CLOSED = 2;
  static opened: Stream[] = [];
  readyState = 1;
  constructor() {
    super();
    Stream.opened.push(this);
  }
  close() {
    this.readyState = Stream.CLOSED;
  }
  tell(name: string, data = '') {
    act(() => void this.dispatchEvent(new MessageEvent(name, { data })));
  }
}

const asked: Record<string, number> = {};

function Asking({ question }: { question: string }) {
  useQuery({
    queryKey: [question],
    queryFn: () => {
      asked[question] = (asked[question] ?? 0) + 1;
      return asked[question];
    },
  });
  return null;
}

function Page() {
  useEvents();
  return ['docket', 'weights', 'record', 'accounts', PREVIEW].map((question) => <Asking key={question} question={question} />);
}

async function page() {
  vi.stubGlobal('EventSource', Stream);
  Stream.opened = [];
  for (const question of Object.keys(asked)) {
    delete asked[question];
  }
  const view = render(
    <QueryClientProvider client={new QueryClient()}>
      <Page />
    </QueryClientProvider>,
  );
  await waitFor(() => expect(asked).toEqual({ docket: 1, weights: 1, record: 1, accounts: 1, preview: 1 }));
  return { stream: Stream.opened[0] as Stream, ...view };
}

afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
  vi.useRealTimers();
});

describe('events', () => {
  it('have only those questions asked again that hang on what changed, and never a preview', async () => {
    const { stream } = await page();
    stream.tell('listening');
    stream.tell('changed', 'DECISIONS,RECORD');
    await waitFor(() => expect(asked).toEqual({ docket: 2, weights: 1, record: 2, accounts: 2, preview: 1 }));
    stream.tell('changed', 'WEIGHTS');
    await waitFor(() => expect(asked).toEqual({ docket: 3, weights: 2, record: 2, accounts: 2, preview: 1 }));
  });
  it('flow until the server is away; once it is back everything is asked for', async () => {
    const { stream, unmount } = await page();
    expect(eventsFlow()).toBe(false);
    stream.tell('listening');
    expect(eventsFlow()).toBe(true);
    stream.tell('error');
    expect(eventsFlow()).toBe(false);
    await waitFor(() => expect(asked.record).toBe(2));
    stream.tell('listening');
    await waitFor(() => expect(asked).toEqual({ docket: 3, weights: 3, record: 3, accounts: 3, preview: 1 }));
    unmount();
    expect(eventsFlow()).toBe(false);
  });
  it('are listened for again where the connection was refused', async () => {
    const { stream } = await page();
    vi.useFakeTimers();
    stream.readyState = Stream.CLOSED;
    stream.tell('error');
    vi.advanceTimersByTime(3_000);
    expect(Stream.opened).toHaveLength(2);
  });
});
