import { act, fireEvent, render, screen } from '@testing-library/react';
import { MemoryRouter, useLocation, useNavigate } from 'react-router';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { changed, useAddress } from './useAddress';

function Place() {
  const [search, set] = useAddress();
  const navigate = useNavigate();
  return (
    <>
      <input aria-label="where" value={search.get('where') ?? ''} onChange={(event) => set({ where: event.target.value })} />
      <button
        type="button"
        onClick={() => {
          set({ verdict: 'BLOCK' });
          set({ for: 'kiosks' });
        }}
      >
        begin
      </button>
      <button type="button" onClick={() => navigate('/other')}>
        leave
      </button>
      <output>{useLocation().search}</output>
    </>
  );
}

const start = (at: string) =>
  render(
    <MemoryRouter initialEntries={[at]}>
      <Place />
    </MemoryRouter>,
  );

beforeEach(() => vi.useFakeTimers());
afterEach(() => {
  vi.useRealTimers();
  document.body.innerHTML = '';
});

describe('the state of a place in its address', () => {
  it('shows what is typed at once; the address follows', () => {
    start('/?verdict=BLOCK');
    for (const text of ['r', 're', 'rea']) {
      fireEvent.change(screen.getByLabelText('where'), { target: { value: text } });
      expect((screen.getByLabelText('where') as HTMLInputElement).value).toBe(text);
    }
    act(() => vi.advanceTimersByTime(200));
    expect(screen.getByRole('status').textContent).toBe('?verdict=BLOCK&where=rea');
  });
  it('loses none of two changes at once', () => {
    start('/');
    fireEvent.click(screen.getByText('begin'));
    act(() => vi.advanceTimersByTime(200));
    expect(screen.getByRole('status').textContent).toBe('?verdict=BLOCK&for=kiosks');
  });
  it('follows a link, and forgets what had not reached the address', () => {
    start('/?where=a');
    fireEvent.change(screen.getByLabelText('where'), { target: { value: 'ab' } });
    fireEvent.click(screen.getByText('leave'));
    act(() => vi.advanceTimersByTime(200));
    expect((screen.getByLabelText('where') as HTMLInputElement).value).toBe('');
    expect(screen.getByRole('status').textContent).toBe('');
  });
  it('does not fetch back who has left for a place that is still loading', () => {
    start('/');
    fireEvent.change(screen.getByLabelText('where'), { target: { value: 'ab' } });
    window.history.pushState({}, '', '/elsewhere');
    act(() => vi.advanceTimersByTime(200));
    expect(screen.getByRole('status').textContent).toBe('');
    window.history.pushState({}, '', '/');
  });
  it('removes what is empty', () => {
    expect(changed('a=1&b=2', { a: '', b: undefined, c: '3' })).toBe('c=3');
  });
});
