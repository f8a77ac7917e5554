import { mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { run, Session, signIn, tokenFile } from './product';

function updateinfo(id: string, version: string): string {
  return `<?xml version="1.0" encoding="UTF-8"?>
<updates><update from="errata" status="final" type="security" version="1"><id>${id}</id><title>${id}: libtls</title>
<issued date="2026-11-12 09:00:00"/><severity>Important</severity><description>A crafted hello overruns a buffer.</description>
<references><reference href="https://tarn.example/${id}" id="CVE-2026-9000031" type="cve"/></references>
<pkglist><collection short="T4"><name>Tarn 4</name><package name="libtls" epoch="0" version="${version}" release="1.t4" arch="x86_64" src="libtls.src.rpm">
<filename>libtls.rpm</filename><restart_suggested>True</restart_suggested></package></collection></pkglist></update></updates>`;
}

/** Brings a file as rpm packages of tarn, with the program's own command, and answers what it says. */
const bring = (server: string | undefined, token: string, file: string) =>
  run('../lucid', 'import', '--server', server ?? '', '--token-file', token, '--namespace', 'tarn', file);

for (const compression of ['gz', 'xz']) {
  test(`a repository made by the real tools is read, ${compression}`, async ({ request, baseURL }, info) => {
    const token = await tokenFile(request, `repository-${compression}`);
    const repository = info.outputPath('repository');
    mkdirSync(repository, { recursive: true });
    run('createrepo_c', '-q', '--no-database', repository);
    const id = `REPO-${compression.toUpperCase()}`;
    writeFileSync(info.outputPath('updateinfo.xml'), updateinfo(id, '9.9'));
    run(
      'modifyrepo_c',
      '--mdtype=updateinfo',
      '--compress',
      `--compress-type=${compression}`,
      info.outputPath('updateinfo.xml'),
      `${repository}/repodata`,
    );
    const said = bring(baseURL, token, `${repository}/repodata/repomd.xml`);
    expect(said).toMatch(/accepted {2}repomd\.xml/);
    expect(said).toMatch(new RegExp(`accepted  .*updateinfo\\.xml\\..* ${id}`));
    const page = await (await Session.of(request, 'j.fenn')).get(`/api/carriers/${id}`);
    expect(page.row.fleet.missing).toBeGreaterThan(30);

    // An altered file is found out by its checksum.
    const file = readdirSync(`${repository}/repodata`).find((name) => name.includes('updateinfo')) ?? '';
    writeFileSync(`${repository}/repodata/${file}`, readFileSync(`${repository}/repodata/${file}`).subarray(0, 100));
    const again = failed(() => bring(baseURL, token, `${repository}/repodata/repomd.xml`));
    expect(again.status).toBe(1);
    expect(again.stdout).toContain('is not the one that repomd.xml gives');
  });
}

/** How a command ended that was expected to fail. */
function failed(command: () => string): { status: number; stdout: string } {
  try {
    return { status: 0, stdout: command() };
  } catch (error) {
    return error as { status: number; stdout: string };
  }
}

test('an updateinfo compressed with Zstandard is read', async ({ request, baseURL }, info) => {
  const token = await tokenFile(request, 'zstandard');
  writeFileSync(info.outputPath('updateinfo.xml'), updateinfo('REPO-ZST', '9.9'));
  run('zstd', '-q', '-19', '--long=27', info.outputPath('updateinfo.xml'), '-o', info.outputPath('updateinfo.xml.zst'));
  const said = bring(baseURL, token, info.outputPath('updateinfo.xml.zst'));
  expect(said).toContain('accepted  updateinfo.xml.zst REPO-ZST');
});

test('check reads documents without importing them, one JSON line each', async () => {
  const info = test.info();
  const good = info.outputPath('good.xml');
  const bad = info.outputPath('bad.json');
  const large = info.outputPath('large.json');
  writeFileSync(good, updateinfo('CHECK-1', '1'));
  writeFileSync(bad, '{"document": {"csaf_version": "2.0"}}');
  writeFileSync(large, Buffer.alloc(200 * 1024 * 1024, 'x'));
  const { status, stdout: output } = failed(() => run('../lucid', 'check', '--namespace', 'tarn', good, bad, large));
  expect(status).toBe(1);
  const lines = output
    .trim()
    .split('\n')
    .map((line) => JSON.parse(line));
  expect(lines).toHaveLength(3);
  expect(lines[0]).toEqual({
    file: good,
    format: 'rpm repository updateinfo',
    id: 'CHECK-1',
    accepted: true,
    place: '',
    reason: '',
    productsRead: 1,
    productsNotRead: 0,
    problems: [],
  });
  expect(lines[1]).toMatchObject({ accepted: false, place: '/document/tracking/version', reason: 'a text is missing' });
  expect(lines[2].reason).toContain('longer than 64 MB');
  expect(run('../lucid', 'check', '--namespace', 'tarn', good)).toContain('"accepted":true');
});

test('a refused updateinfo is tried again with what was missing', async ({ page, request }, info) => {
  // Hosts of a second system: now it must be told whose packages an updateinfo is about.
  const token = await tokenFile(request, 'second-system');
  const host = JSON.stringify({ t: 'host', host: 'rill-1', platform: 'Rill', at: new Date(Date.now() - 60_000).toISOString() });
  const product = JSON.stringify({ t: 'product', purl: 'pkg:rpm/rill/libtls?arch=x86_64', version: '1-1' });
  writeFileSync(info.outputPath('rill.jsonl'), `${host}\n${product}\n{"t":"end","lines":2}\n`);
  run('../lucid', 'import', '--server', 'http://127.0.0.1:8049', '--token-file', token, info.outputPath('rill.jsonl'));
  await signIn(page);
  await page.goto('/intake');
  writeFileSync(info.outputPath('again.xml'), updateinfo('AGAIN-1', '9.9'));
  await page.getByLabel('Files to bring in').setInputFiles([info.outputPath('again.xml')]);
  const refused = page.getByRole('row', { name: /again\.xml/ }).first();
  await expect(refused).toContainText('name the namespace of their package URLs');
  await refused.getByLabel('Namespace of the packages').fill('tarn');
  await refused.getByRole('button', { name: 'Try again' }).click();
  await expect(page.getByRole('row', { name: /again\.xml.*AGAIN-1/ })).toContainText('accepted');
  await expect(page.getByRole('row', { name: /again\.xml/ }).nth(1)).toContainText('tried again since');
});

test('a table of hosts is shown, its columns are matched, and it is taken', async ({ page }, info) => {
  await signIn(page);
  await page.goto('/intake');
  writeFileSync(
    info.outputPath('landings.csv'),
    'Machine;Landing;Weekly crowd\nksk-001;fell;1200\nksk-002;north ness;300\nksk-001;fell;1\n',
  );
  await page.getByLabel('Files to bring in').setInputFiles([info.outputPath('landings.csv')]);
  const dialog = page.getByRole('dialog', { name: /landings\.csv/ });
  await expect(dialog).toContainText('Each row adds traits to its host.');
  await expect(dialog.getByLabel('What is wrong')).toContainText('ksk-001 stands in line 2 already');
  await dialog.getByLabel('What the column Landing is').fill('trait quay');
  await dialog.getByRole('button', { name: 'Take 2 hosts of 3 rows' }).click();
  await expect(page.getByRole('row', { name: /landings\.csv/ })).toContainText('accepted');
  // The trait narrows a verdict at once.
  await page.goto('/cases/LNT-1107?verdict=BLOCK&for=ticket-kiosks&where=quay+%3D+fell+and+weekly_crowd+%3E+1000');
  await expect(page.getByRole('button', { name: /^Block on [01] hosts?$/ })).toBeVisible();
  await expect(page.getByText('the trait')).toHaveCount(0);
});
