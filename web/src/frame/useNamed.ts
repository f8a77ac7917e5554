import { useLocation } from 'react-router';

/**
 * What an address names behind its place: "LNT-1107" of "/cases/LNT-1107". Taken from the path itself, since the router reads an identifier that holds "%2F" as
 * one with a slash.
 */
export function useNamed(): string {
  const part = useLocation().pathname.split('/')[2] ?? '';
  try {
    return decodeURIComponent(part);
  } catch {
    return part;
  }
}
