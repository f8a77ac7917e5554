import { execFileSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { APIRequestContext, Page } from '@playwright/test';
import { expect } from '@playwright/test';

export const PASSWORD = 'skerry-line';

/** Signs in with keys only. */
export async function signIn(page: Page, name = 'm.aldane', path = '/docket', password = PASSWORD) {
  await page.goto(path);
  await expect(page.getByLabel('Name')).toBeFocused();
  await page.keyboard.type(name);
  await page.keyboard.press('Tab');
  await page.keyboard.type(password);
  await page.keyboard.press('Enter');
  await expect(page.getByRole('navigation', { name: 'Places' }).or(page.getByText('Choose a password'))).toBeVisible();
}

/** Presses keys one after the other. */
export async function press(page: Page, ...keys: string[]) {
  for (const key of keys) {
    await page.keyboard.press(key);
  }
}

/** The API as somebody who signed in; its requests carry the token against forgery. */
export class Session {
  private constructor(private readonly request: APIRequestContext) {}

  static async of(request: APIRequestContext, name: string): Promise<Session> {
    const session = new Session(request);
    await request.get('/api/sessions/current');
    await session.post('/api/sessions', { name, password: PASSWORD });
    return session;
  }

  async get(path: string) {
    const answer = await this.request.get(path);
    expect(answer.status(), path).toBe(200);
    return answer.json();
  }

  async post(path: string, data: unknown) {
    const cookies = (await this.request.storageState()).cookies;
    const token = cookies.find((cookie) => cookie.name === 'XSRF-TOKEN')?.value ?? '';
    const answer = await this.request.post(path, { data, headers: { 'X-XSRF-TOKEN': token, 'If-Match': '*' } });
    expect(answer.status(), `${path}: ${await answer.text()}`).toBeLessThan(300);
    return answer.status() === 204 ? undefined : answer.json();
  }

  async delete(path: string) {
    const cookies = (await this.request.storageState()).cookies;
    const token = cookies.find((cookie) => cookie.name === 'XSRF-TOKEN')?.value ?? '';
    const answer = await this.request.delete(path, { headers: { 'X-XSRF-TOKEN': token } });
    expect(answer.status(), path).toBe(204);
  }

  /** Lets the demo go on, and waits until its hosts have lived through it. */
  async advance(hours: number) {
    await this.post('/api/clock/advances', { hours });
    await expect.poll(async () => (await this.get('/api/clock')).journey, { timeout: 840_000 }).toBeUndefined();
  }

  /** Brings a document, which must be taken. */
  async document(name: string, content: string) {
    const cookies = (await this.request.storageState()).cookies;
    const token = cookies.find((cookie) => cookie.name === 'XSRF-TOKEN')?.value ?? '';
    const answer = await this.request.post('/api/documents', {
      multipart: { files: { name, mimeType: 'application/json', buffer: Buffer.from(content) } },
      headers: { 'X-XSRF-TOKEN': token },
    });
    expect(await answer.text(), name).toContain('"ACCEPTED"');
  }
}

/** A machine token that may bring any document, in a file. */
export async function tokenFile(request: APIRequestContext, name: string): Promise<string> {
  const administrator = await Session.of(request, 'k.strand');
  const made = await administrator.post('/api/tokens', { name, scope: 'IMPORT' });
  const file = join(mkdtempSync(join(tmpdir(), 'lucid-e2e-')), 'token');
  writeFileSync(file, made.token, { mode: 0o600 });
  return file;
}

export function run(command: string, ...args: string[]): string {
  return execFileSync(command, args, { encoding: 'utf8' });
}
