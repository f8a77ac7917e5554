import type { Schemas } from '../api/client';
import { readsEverything } from '../api/queries';

/** A place that a line of words or a key leads to: G, then its letter. */
export interface Place {
  to: string;
  name: string;
  key: string;
}

/** Where somebody of a role begins. */
export function firstPlaceOf(role: Schemas['Session']['role']): string {
  return readsEverything(role) ? '/docket' : role === 'OPERATOR' ? '/by-operator' : '/carriers';
}

/** The places that somebody of a role may enter, in the order of the line at the top; then those that stand elsewhere. */
export function placesOf(role: Schemas['Session']['role']): Place[] {
  const judges = readsEverything(role);
  const place = (may: boolean, to: string, name: string, key: string): Place[] => (may ? [{ to, name, key }] : []);
  return [
    ...place(judges, '/docket', 'Docket', 'd'),
    ...place(judges, '/in-force', 'In force', 'f'),
    ...place(judges, '/pilots', 'Pilots', 'o'),
    ...place(judges, '/exceptions', 'Exceptions', 'e'),
    ...place(true, '/carriers', 'Carriers', 'c'),
    ...place(true, '/populations', 'Populations', 'p'),
    ...place(true, '/hosts', 'Hosts', 'h'),
    ...place(role === 'OPERATOR', '/by-operator', 'For you to install', 'b'),
    ...place(judges, '/intake', 'Intake', 'i'),
    ...place(judges, '/record', 'Record', 'r'),
    ...place(role === 'ADMINISTRATOR', '/access', 'Access', 'a'),
    ...place(role !== 'OPERATOR', '/by-operator', 'By operator', 'b'),
    ...place(true, '/digest', 'Digest', 'm'),
    ...place(judges, '/report/time-to-carry', 'Report', 't'),
    ...place(judges, '/weights', 'Weights', 'w'),
    ...place(true, '/account', 'Your account', 'y'),
    ...place(true, '/help', 'Help', 'l'),
  ];
}
