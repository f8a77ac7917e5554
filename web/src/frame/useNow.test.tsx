import { renderHook } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';
import { useNow } from './useNow';

const clock = vi.hoisted(() => ({ now: '2026-11-24T09:00:00Z' }));
vi.mock('../api/queries', () => ({ useClock: () => ({ data: { ...clock } }) }));

describe('what time it is', () => {
  it('stays the same value until the server tells another', () => {
    const { result, rerender } = renderHook(useNow);
    const first = result.current;
    rerender();
    expect(result.current).toBe(first);
    clock.now = '2026-11-24T10:00:00Z';
    rerender();
    expect(result.current).toEqual(new Date('2026-11-24T10:00:00Z'));
  });
});
