import createClient from 'openapi-fetch';
import { randomKey } from './randomKey';
import type { components, paths } from './schema';

export type Schemas = components['schemas'];

/** A request that the server did not carry out, as its problem details tell it (RFC 9457). */
export class Refusal extends Error {
  constructor(
    readonly status: number,
    message: string,
    readonly field?: string,
    readonly position?: number,
  ) {
    super(message);
  }
}

function forgeryToken(): string {
  return /(?:^|; )XSRF-TOKEN=([^;]+)/.exec(document.cookie)?.[1] ?? '';
}

/** Status of a request that no server has answered. */
export const UNREACHED = 0;

async function answerOf(request: Promise<Response>): Promise<Response> {
  try {
    return await request;
  } catch (error) {
    if (error instanceof DOMException && error.name === 'AbortError') {
      throw error;
    }
    throw new Refusal(UNREACHED, 'the server cannot be reached');
  }
}

export const api = createClient<paths>({ baseUrl: window.location.origin, fetch: (request) => answerOf(fetch(request)) });

api.use({
  onRequest({ request }) {
    if (request.method !== 'GET') {
      request.headers.set('X-XSRF-TOKEN', forgeryToken());
    }
    return request;
  },
  async onResponse({ response }) {
    if (!response.ok) {
      throw await refusal(response);
    }
  },
});

async function refusal(response: Response): Promise<Refusal> {
  try {
    const problem = await response.json();
    return new Refusal(
      response.status,
      problem.detail ?? problem.title ?? `The server answered ${response.status}`,
      problem.field,
      problem.position,
    );
  } catch {
    return new Refusal(response.status, `The server answered ${response.status}`);
  }
}

/** The body of an answer; a refusal has been thrown before. */
export async function body<T>(answer: Promise<{ data?: T }>): Promise<T> {
  return (await answer).data as T;
}

/** A body that is a document already. */
export const asItIs = (document: string) => document;

/** What an iCalendar file says of holidays; nothing is kept. */
export const readHolidays = (file: File) =>
  body(
    api.POST('/api/populations/holidays', {
      body: '',
      bodySerializer: () => file,
      headers: { 'Content-Type': 'text/calendar' },
    }),
  );

/** What the sender of documents knows that does not stand in them. */
export interface Beside {
  namespace?: string;
  distro?: string;
  /** Of a table: what each column is, by its heading. */
  columns?: Record<string, string>;
}

/** Sends files as they are; the generated client knows no multipart. */
export async function sendFiles(files: File[], beside: Beside = {}): Promise<Schemas['IntakeResult'][]> {
  const form = new FormData();
  if (beside.namespace) {
    form.append('namespace', beside.namespace);
  }
  if (beside.distro) {
    form.append('distro', beside.distro);
  }
  if (beside.columns) {
    form.append('columns', JSON.stringify(beside.columns));
  }
  for (const file of files) {
    form.append('files', file, file.name);
  }
  return post('/api/documents', form, { 'Idempotency-Key': randomKey() });
}

/** What a table of hosts would be read as. */
export async function previewTable(file: File, columns: Record<string, string>): Promise<Schemas['Preview']> {
  const form = new FormData();
  form.append('file', file, file.name);
  form.append('columns', JSON.stringify(columns));
  return post('/api/documents/preview', form);
}

type Decided = 'verdict' | 'acknowledgement' | 'exception' | 'freeze' | 'caution' | 'proposal' | 'note' | 'dismissedFailure' | 'caseNote';

/** The address that takes decisions back, all of them together; whoever decides is told the same one. */
export const undoOf = (kind: Decided, numbers: number[]) => `/api/decisions?${kind}=${numbers.join(',')}`;

/** What taking back at this address would release or withhold; nothing where it touches no ruling. */
export async function revocationAt(undo: string): Promise<Schemas['OpeningView'][]> {
  if (!/^\/api\/(decisions|populations)\b/.test(undo)) {
    return [];
  }
  const [path, query] = undo.split('?');
  const response = await answerOf(fetch(`${path}/revocation${query === undefined ? '' : `?${query}`}`));
  if (!response.ok) {
    throw await refusal(response);
  }
  return response.json();
}

export async function takeBackAt(undo: string): Promise<void> {
  const response = await answerOf(fetch(undo, { method: 'DELETE', headers: { 'X-XSRF-TOKEN': forgeryToken() } }));
  if (!response.ok) {
    throw await refusal(response);
  }
}

async function post<T>(path: string, form: FormData, headers: Record<string, string> = {}): Promise<T> {
  const response = await answerOf(fetch(path, { method: 'POST', headers: { 'X-XSRF-TOKEN': forgeryToken(), ...headers }, body: form }));
  if (!response.ok) {
    throw await refusal(response);
  }
  return response.json();
}
