import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test } from '@playwright/test';
import { run, Session, signIn, tokenFile } from './product';

/** An advisory about one deb package of this machine. */
function advisory(id: string, packageUrl: string, fixed: string): string {
  const now = new Date().toISOString();
  return JSON.stringify({
    document: {
      csaf_version: '2.0',
      title: `${id}: a vulnerability`,
      publisher: { name: 'Test' },
      tracking: { id, version: '1', initial_release_date: now, current_release_date: now },
    },
    product_tree: {
      branches: [
        {
          category: 'product_version',
          name: fixed,
          product: {
            product_id: 'P',
            name: 'P',
            product_identification_helper: { purl: packageUrl.replace('?', `@${encodeURIComponent(fixed)}?`) },
          },
        },
      ],
    },
    vulnerabilities: [{ cve: 'CVE-2026-9999999', product_status: { fixed: ['P'] } }],
  });
}

test('this very machine reports, and an advisory shows it as carrying or missing as dpkg says', async ({ request, baseURL }, info) => {
  const token = await tokenFile(request, 'this-machine');
  run('../reporter/lucid-reporter', 'report', '--server', baseURL ?? '', '--token-file', token, '--name', 'this-machine');

  const lines = run('../reporter/lucid-reporter', 'report', '--print').trim().split('\n');
  const products = lines
    .map((line) => JSON.parse(line) as { t: string; purl: string; version: string })
    .filter((line) => line.t === 'product');
  expect(products.length).toBeGreaterThan(50);
  // Every twentieth package, with a fix below, at and above what is installed.
  const cases: { id: string; installed: string; fixed: string }[] = [];
  const files: string[] = [];
  for (const [index, product] of products.filter((_, i) => i % 20 === 0).entries()) {
    const fixed = [`${product.version}~1`, product.version, `${product.version}+1`][index % 3] as string;
    const id = `REAL-${index}`;
    const file = info.outputPath(`${id}.json`);
    writeFileSync(file, advisory(id, product.purl, fixed));
    files.push(file);
    cases.push({ id, installed: product.version, fixed });
  }
  const said = run('../lucid', 'import', '--server', baseURL ?? '', '--token-file', token, ...files);
  expect(said.match(/^accepted/gm)).toHaveLength(files.length);

  const reader = await Session.of(request, 'j.fenn');
  for (const { id, installed, fixed } of cases) {
    const hosts = (await reader.get(`/api/carriers/${id}/hosts`)).hosts as { name: string; state: string }[];
    const state = hosts.find((host) => host.name === 'this-machine')?.state;
    expect(state, `${id}: ${installed} installed, fixed in ${fixed}`).toBe(lacks(installed, fixed) ? 'MISSING' : 'CARRIES');
  }
  expect(cases.filter(({ installed, fixed }) => lacks(installed, fixed)).length).toBeGreaterThan(0);
});

test('a real deb root and a real rpm root stand on Hosts with the states that dpkg and dnf give', async ({
  page,
  request,
  baseURL,
}, info) => {
  const token = await tokenFile(request, 'real-roots');
  const roots = join(mkdtempSync(join(tmpdir(), 'lucid-roots-')));
  const report = (name: string) =>
    run(
      '../reporter/lucid-reporter',
      'report',
      '--server',
      baseURL ?? '',
      '--token-file',
      token,
      '--name',
      name,
      '--root',
      join(roots, name, 'root'),
    );
  run('./roots.sh', 'deb', join(roots, 'real-deb'));
  run('./roots.sh', 'rpm', join(roots, 'real-rpm'));

  // Advisories first: the logs then tell when the updates were installed.
  const fixed = { 'ROOT-ALPHA': ['alpha', '1.1-1'], 'ROOT-BETA': ['beta', '1.1-1'], 'ROOT-GAMMA': ['gamma', '1:2.0-1+u1'] };
  const files = Object.entries(fixed).map(([id, [name, version]]) => {
    const file = info.outputPath(`${id}.json`);
    writeFileSync(file, advisory(id, `pkg:deb/fathom/${name}?arch=all&distro=fathom-31`, version as string));
    return file;
  });
  run('../lucid', 'import', '--server', baseURL ?? '', '--token-file', token, ...files);
  const repomd = join(roots, 'real-rpm', 'repo', 'repodata', 'repomd.xml');
  run('../lucid', 'import', '--server', baseURL ?? '', '--token-file', token, '--namespace', 'tarn', repomd);
  report('real-deb');
  report('real-rpm');

  const reader = await Session.of(request, 'j.fenn');
  const states = async (name: string, prefix: string) => {
    const updates = (await reader.get(`/api/hosts/${name}/updates`)).updates as { id: string; state: string }[];
    return Object.fromEntries(updates.filter((u) => u.id.startsWith(prefix)).map((u) => [u.id, u.state]));
  };
  const installed = { 'ROOT-ALPHA': '1.1-1', 'ROOT-BETA': '1.0-1', 'ROOT-GAMMA': '1:2.0~rc1-1' };
  const expected = Object.entries(fixed).map(([id, [, version]]) => [
    id,
    lacks(installed[id as keyof typeof installed], version as string) ? 'MISSING' : 'CARRIES',
  ]);
  expect(await states('real-deb', 'ROOT')).toEqual(Object.fromEntries(expected));

  const said = (which: string[]) =>
    run('./roots.sh', 'updates', join(roots, 'real-rpm'), ...which)
      .trim()
      .split('\n');
  const byDnf = [...said([]).map((id) => [id, 'MISSING']), ...said(['--installed']).map((id) => [id, 'CARRIES'])];
  expect(byDnf).toHaveLength(3);
  expect(await states('real-rpm', 'TRN-2026')).toEqual(Object.fromEntries(byDnf));

  await signIn(page);
  await page.goto('/hosts?show=ALL&find=real-');
  const hosts = page.getByRole('table', { name: 'Hosts' });
  await expect(hosts.getByRole('row', { name: /real-deb.*Fathom OS 31/ })).toContainText('file:');
  await expect(hosts.getByRole('row', { name: /real-rpm.*Tarn Linux 4/ })).toContainText('file:///');
  await page.goto('/hosts/real-rpm');
  await expect(page.getByRole('table', { name: 'Updates' })).toContainText('TRN-2026:0002');
  await page.goto('/hosts/real-deb?part=history');
  await expect(page.getByText('Told: it installed ROOT-ALPHA.')).toBeVisible();
});

function lacks(installed: string, fixed: string): boolean {
  try {
    run('dpkg', '--compare-versions', installed, 'lt', fixed);
    return true;
  } catch {
    return false;
  }
}

test('files that are dropped are taken or refused one by one, with place and reason', async ({ page }, info) => {
  await signIn(page, 'm.aldane', '/intake');
  await page.goto('/intake');
  const good = info.outputPath('good.json');
  const bad = info.outputPath('bad.json');
  writeFileSync(good, advisory('DROP-1', 'pkg:deb/debian/dpkg?arch=amd64', '99'));
  writeFileSync(bad, advisory('DROP-2', 'pkg:deb/debian/dpkg?arch=amd64', '99').replace('CVE-2026-9999999', 'a vulnerability'));
  await page.getByLabel('Files to bring in').setInputFiles([good, bad]);
  await expect(page.getByText('1 document read, 1 refused: see why below.')).toBeVisible();
  await expect(page.getByRole('row', { name: /good\.json.*DROP-1/ })).toContainText('accepted');
  const refused = page.getByRole('row', { name: /bad\.json/ });
  await expect(refused).toContainText('/vulnerabilities/0/cve');
  await expect(refused).toContainText("'a vulnerability' is no CVE identifier");
});

test('a file that is let go over the page is read', async ({ page }) => {
  await signIn(page);
  await page.goto('/intake');
  const area = page.getByRole('region', { name: 'Bring documents in' });
  await area.waitFor();
  const dropped = await page.evaluateHandle(
    (content) => {
      const transfer = new DataTransfer();
      transfer.items.add(new File([content], 'let-go.json', { type: 'application/json' }));
      return transfer;
    },
    advisory('DROP-3', 'pkg:deb/debian/dpkg?arch=amd64', '99'),
  );
  await area.dispatchEvent('drop', { dataTransfer: dropped });
  await expect(page.getByRole('row', { name: /let-go\.json.*DROP-3/ })).toContainText('accepted');
});

test('an administrator adds an analyst, who signs in and judges', async ({ page }) => {
  await signIn(page, 'k.strand', '/access');
  await page.goto('/access');
  await page.getByLabel('Signs in as').fill('n.berg');
  await page.getByLabel('Name in the record').fill('N. Berg');
  await page.getByLabel('Password', { exact: true }).fill('short');
  await page.getByRole('button', { name: 'Add', exact: true }).click();
  await expect(page.getByRole('alert')).toContainText('a password has at least 10 characters');
  await page.getByLabel('Password', { exact: true }).fill('given-by-another');
  await page.getByRole('button', { name: 'Add', exact: true }).click();
  await expect(page.getByRole('row', { name: /n\.berg N\. Berg analyst, has a one-time password/ })).toBeVisible();
  await page.getByRole('button', { name: /K\. Strand/ }).click();
  await page.getByRole('menuitem', { name: 'Sign out' }).click();
  await signIn(page, 'n.berg', '/docket', 'given-by-another');
  await page.getByLabel('The one-time password').fill('given-by-another');
  await page.getByLabel('The new password', { exact: true }).fill('chosen-by-myself');
  await page.getByLabel('The new password again').fill('chosen-by-myself');
  await page.getByRole('button', { name: 'Change it' }).click();
  await expect(page.getByRole('button', { name: /N\. Berg/ })).toBeVisible();
  await expect(page.locator('#legend').getByText('leave to the rule')).toBeVisible();
});

test('the list of hosts is a file', async ({ page }) => {
  await signIn(page);
  await page.goto('/carriers/LNT-1107?population=ticket-kiosks&state=CARRIES');
  await expect(page.getByRole('heading', { level: 2 })).toContainText('Ticket kiosks');
  const download = page.waitForEvent('download');
  await page.getByRole('link', { name: 'CSV of these hosts' }).click();
  const text = await (await download).createReadStream().then(async (stream) => (await stream.toArray()).join(''));
  const shown = await page.getByRole('table', { name: 'Hosts' }).getByRole('row').count();
  expect(text.trim().split('\r\n')).toHaveLength(shown);
  expect(text).toContain('lantern-desktop 6.0.1107');
});
