import { useEffect, useRef, useState } from 'react';
import { useLocation, useSearchParams } from 'react-router';

export type Changes = Record<string, string | undefined>;

/**
 * The state of a place, as the parameters of its address. What a person does counts at once; the address follows a moment later,
 * since a browser takes only so many changes of it a second, and must not take back what was typed meanwhile. A link or a step back
 * changes the address first, and the state follows.
 */
export function useAddress(): [URLSearchParams, (changes: Changes) => void] {
  const [search, setSearch] = useSearchParams();
  const { pathname } = useLocation();
  const address = search.toString();
  const [state, setState] = useState(address);
  const known = useRef(address);
  // Addresses that were set from here and that the browser has not shown yet. One that comes late is no step back.
  const underway = useRef<string[]>([]);
  useEffect(() => {
    const own = underway.current.indexOf(address);
    underway.current = underway.current.slice(own + 1);
    if (own < 0 && address !== known.current) {
      known.current = address;
      setState(address);
    }
  }, [address]);
  useEffect(() => {
    if (state === known.current) {
      return;
    }
    const timer = setTimeout(() => {
      // Who has left for another place, which may still be loading, is not fetched back.
      if (window.location.pathname === pathname) {
        known.current = state;
        underway.current.push(state);
        setSearch(new URLSearchParams(state), { replace: true });
      }
    }, 150);
    return () => clearTimeout(timer);
  }, [state, setSearch, pathname]);
  return [new URLSearchParams(state), (changes) => setState((before) => changed(before, changes))];
}

/** The parameters after some of them were set, or removed where the value is undefined or empty. */
export function changed(before: string, changes: Changes): string {
  const next = new URLSearchParams(before);
  for (const [name, value] of Object.entries(changes)) {
    if (value === undefined || value === '') {
      next.delete(name);
    } else {
      next.set(name, value);
    }
  }
  return next.toString();
}
