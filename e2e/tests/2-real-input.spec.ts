import { writeFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { run, Session, signIn, tokenFile } from './product';

/** An advisory about one deb package of this machine. */
function advisory(id: string, packageUrl: string, fixed: string): string {
  const now = new Date().toISOString();
  return JSON.stringify({
    document: {
      csaf_version: '2.0',
      title: `${id}: a weakness`,
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
  run('../reporter/lucid-report', '--server', baseURL ?? '', '--token-file', token, '--name', 'this-machine');

  const lines = run('../reporter/lucid-report', '--print').trim().split('\n').slice(1, -1);
  const products = lines.map((line) => JSON.parse(line) as { purl: string; version: string });
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
  expect(said.match(/^taken/gm)).toHaveLength(files.length);

  const reader = await Session.of(request, 'j.fenn');
  for (const { id, installed, fixed } of cases) {
    const hosts = (await reader.get(`/api/carriers/${id}/hosts`)).hosts as { name: string; state: string }[];
    const state = hosts.find((host) => host.name === 'this-machine')?.state;
    expect(state, `${id}: ${installed} installed, fixed in ${fixed}`).toBe(lacks(installed, fixed) ? 'MISSING' : 'CARRIES');
  }
  expect(cases.filter(({ installed, fixed }) => lacks(installed, fixed)).length).toBeGreaterThan(0);
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
  writeFileSync(bad, advisory('DROP-2', 'pkg:deb/debian/dpkg?arch=amd64', '99').replace('CVE-2026-9999999', 'a weakness'));
  await page.getByLabel('Files to bring in').setInputFiles([good, bad]);
  await expect(page.getByText('1 document read, 1 refused: see why below.')).toBeVisible();
  await expect(page.getByRole('row', { name: /good\.json.*DROP-1/ })).toContainText('taken');
  const refused = page.getByRole('row', { name: /bad\.json/ });
  await expect(refused).toContainText('/vulnerabilities/0/cve');
  await expect(refused).toContainText("'a weakness' is no CVE identifier");
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
  await expect(page.getByRole('row', { name: /let-go\.json.*DROP-3/ })).toContainText('taken');
});

test('an administrator adds an analyst, who signs in and judges', async ({ page }) => {
  await signIn(page, 'k.strand', '/access');
  await page.goto('/access');
  await page.getByLabel('Signs in as').fill('n.berg');
  await page.getByLabel('Name in the record').fill('N. Berg');
  await page.getByLabel('Password').fill('short');
  await page.getByRole('button', { name: 'Add' }).click();
  await expect(page.getByRole('alert')).toContainText('a password has at least 10 characters');
  await page.getByLabel('Password').fill('given-by-another');
  await page.getByRole('button', { name: 'Add' }).click();
  await expect(page.getByRole('row', { name: /n\.berg N\. Berg analyst, has a one-time password/ })).toBeVisible();
  await page.getByRole('button', { name: /K\. Strand/ }).click();
  await page.getByRole('menuitem', { name: 'Sign out' }).click();
  await signIn(page, 'n.berg', '/docket', 'given-by-another');
  await page.getByLabel('The one-time password').fill('given-by-another');
  await page.getByLabel('The new password', { exact: true }).fill('chosen-by-myself');
  await page.getByLabel('The new password again').fill('chosen-by-myself');
  await page.getByRole('button', { name: 'Change it' }).click();
  await expect(page.getByRole('button', { name: /N\. Berg/ })).toBeVisible();
  await expect(page.getByText('leave to the rule')).toBeVisible();
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
