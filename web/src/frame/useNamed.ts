import { useLocation } from 'react-router';

/** Part of an address as it was meant; as it stands where it is no encoding of anything. */
export function decoded(part: string): string {
  try {
    return decodeURIComponent(part);
  } catch {
    return part;
  }
}

/**
 * What an address names behind its place: "LNT-1107" of "/cases/LNT-1107". Taken from the path itself, since the router reads an identifier that holds "%2F" as
 * one with a slash.
 */
export function useNamed(): string {
  return decoded(useLocation().pathname.split('/')[2] ?? '');
}
