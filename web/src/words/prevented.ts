import type { Schemas } from '../api/client';

/** What keeps hosts from installing by themselves, whatever is offered or due. */
export const PREVENTED: Record<Schemas['PreventedView']['why'], string> = {
  BATTERY: 'on battery, charged less than is asked for',
  PAID_LINE: 'on a line that is paid by what goes over it',
  SPACE: 'with less free space than twice its size',
};

/** Why hosts lack what is past due on them, and what to do about it. */
export const OVERDUE: Record<Schemas['OverdueHosts']['why'], string> = {
  SILENT: 'silent too long: somebody has to look at them',
  FAILED: 'failed when last tried: their failures stand under the evidence',
  NOT_REACHED: 'not known to have heard it, or to do it',
  INSTALLS_NOTHING: 'set to install nothing by themselves',
  BY_OPERATOR: 'to be installed by an operator',
  NOT_ON_SOURCES: 'whose sources do not have it yet',
  BATTERY: `${PREVENTED.BATTERY}, as last told`,
  PAID_LINE: `${PREVENTED.PAID_LINE}, as last told`,
  SPACE: `${PREVENTED.SPACE}, as last told`,
  NO_WINDOW: 'without a window since',
  NOT_KNOWN: 'of which nothing is known that keeps them',
};
