import { type ChildProcess, spawn, spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { type APIRequestContext, expect, test } from '@playwright/test';
import { run, Session, signIn, tokenFile } from './product';

const REPORTER = resolve('../reporter/lucid-reporter');
const ROOTS = resolve('./roots.sh');

/** A private root of real packages, enrolled as a host. */
class ProvedHost {
  private constructor(
    readonly name: string,
    readonly kind: 'deb' | 'rpm',
    readonly folder: string,
  ) {}

  static async enrol(request: APIRequestContext, kind: 'deb' | 'rpm', server: string): Promise<ProvedHost> {
    const folder = join(mkdtempSync(join(tmpdir(), 'lucid-proof-')), kind);
    const host = new ProvedHost(`proof-${kind}`, kind, folder);
    run(ROOTS, kind, folder);
    for (const name of ['delta', 'epsilon']) {
      host.publish(name, '1.0');
      host.refresh();
      run(ROOTS, 'install', folder, kind === 'deb' ? `${name}=1.0-1` : `${name}-1.0-1.t4`);
      host.publish(name, '1.1');
    }
    host.refresh();
    if (kind === 'rpm') {
      writeFileSync(join(folder, 'root/etc/dnf/dnf.conf'), `[main]\ngpgcheck=0\nplugins=1\npluginpath=${resolve('../reporter/dnf')}\n`);
    }
    const administrator = await Session.of(request, 'k.strand');
    const made = await administrator.post('/api/tokens', { name: host.name, scope: 'ENROL', host: host.name, days: 1 });
    const token = join(folder, 'enrolment');
    writeFileSync(token, made.token, { mode: 0o600 });
    expect(host.reporter('enrol', '--server', server, '--token-file', token)).toContain(`enrolled as ${host.name}`);
    return host;
  }

  private get environment(): NodeJS.ProcessEnv {
    const own = this.kind === 'deb' ? { APT_CONFIG: join(this.folder, 'apt.conf') } : { HOME: join(this.folder, 'home') };
    return { ...process.env, LC_ALL: 'C', TZ: 'UTC', ...own };
  }

  /** What the reporter says, on both of its outputs. */
  reporter(command: string, ...options: string[]): string {
    const ran = spawnSync(REPORTER, [command, '--root', this.root, ...options], { env: this.environment, encoding: 'utf8' });
    return ran.stdout + ran.stderr;
  }

  /** As {@link reporter}, while others go on. */
  reporterBeside(command: string): Promise<string> {
    return new Promise((done) => {
      const child = spawn(REPORTER, [command, '--root', this.root], { env: this.environment });
      let said = '';
      child.stdout.on('data', (part) => (said += part));
      child.stderr.on('data', (part) => (said += part));
      child.on('close', () => done(said));
    });
  }

  /** Waits for orders until it is killed. */
  watch(): ChildProcess {
    return spawn(REPORTER, ['watch', '--root', this.root], { env: this.environment, stdio: 'ignore' });
  }

  get root(): string {
    return join(this.folder, 'root');
  }

  file(path: string): string {
    return join(this.root, path);
  }

  private roots(command: string, ...rest: string[]): string {
    return run(ROOTS, command, this.folder, ...rest);
  }

  publish(name: string, version: string) {
    this.roots('publish', name, this.kind === 'deb' ? `${version}-1` : version);
  }

  refresh() {
    this.roots('refresh');
  }

  private lines(command: string): string[] {
    return this.roots(command)
      .trim()
      .split('\n')
      .filter((line) => line !== '')
      .map((line) => line.replace(/^(\S+ )1:/, '$1').replace(/-1(\.t4|\+u1)?$/, ''));
  }

  /** What the package manager would upgrade: "name version", without the release. */
  offered(): string[] {
    return this.lines('offered');
  }

  installed(name: string): string | undefined {
    return this.lines('installed')
      .find((line) => line.startsWith(`${name} `))
      ?.slice(name.length + 1);
  }

  /** Package URL and version of a package, as an advisory names it. */
  version(version: string): string {
    return this.kind === 'deb' ? `${version}-1` : `0:${version}-1.t4`;
  }

  packageUrl(name: string): string {
    return this.kind === 'deb' ? `pkg:deb/fathom/${name}?arch=all&distro=fathom-31` : `pkg:rpm/tarn/${name}?arch=noarch&distro=tarn-4`;
  }

  /** As the kernel would tell of a battery or a plug. */
  power(name: string, files: Record<string, string>) {
    const folder = this.file(`sys/class/power_supply/${name}`);
    mkdirSync(folder, { recursive: true });
    for (const [file, content] of Object.entries(files)) {
      writeFileSync(join(folder, file), `${content}\n`);
    }
  }

  switchInstallsOn() {
    const file = this.file('etc/lucid-reporter/reporter.conf');
    writeFileSync(file, readFileSync(file, 'utf8').replace('installs=no', 'installs=yes'));
  }
}

function advisory(id: string, revision: string, url: string, version: string): string {
  const now = new Date().toISOString();
  return JSON.stringify({
    document: {
      csaf_version: '2.0',
      title: `${id}: a vulnerability`,
      publisher: { name: 'Test' },
      tracking: { id, version: revision, initial_release_date: now, current_release_date: now },
    },
    product_tree: {
      branches: [
        {
          category: 'product_version',
          name: version,
          product: {
            product_id: 'P',
            name: 'P',
            product_identification_helper: { purl: url.replace('?', `@${encodeURIComponent(version)}?`) },
          },
        },
      ],
    },
    vulnerabilities: [{ cve: 'CVE-2026-9999991', product_status: { fixed: ['P'] } }],
  });
}

for (const kind of ['deb', 'rpm'] as const) {
  test(`a real ${kind} host does what was decided: blocked, taken back, passed by a revision, forced, removed`, async ({
    page,
    request,
    baseURL,
  }, info) => {
    const server = baseURL ?? '';
    const host = await ProvedHost.enrol(request, kind, server);
    const token = await tokenFile(request, `proof-documents-${kind}`);
    const id = (name: string) => `PROOF-${kind.toUpperCase()}-${name.toUpperCase()}`;
    const [beta, gamma, delta, epsilon] = [id('beta'), id('gamma'), id('delta'), id('epsilon')];
    const advise = (update: string, revision: string, name: string, version: string) => {
      const file = info.outputPath(`${update}-${revision}.json`);
      writeFileSync(file, advisory(update, revision, host.packageUrl(name), version.includes('-') ? version : host.version(version)));
      run('../lucid', 'import', '--server', server, '--token-file', token, file);
    };
    advise(beta, '1', 'beta', '1.1');
    advise(gamma, '1', 'gamma', kind === 'deb' ? '1:2.0-1+u1' : '1:2.0-1.t4');
    advise(delta, '1', 'delta', '1.1');
    advise(epsilon, '1', 'epsilon', '1.1');

    const analyst = await Session.of(request, 'm.aldane');
    const clock = async () => new Date((await analyst.get('/api/clock')).now as string);
    const day = async (days: number) => new Date((await clock()).getTime() + days * 86_400_000).toISOString().slice(0, 10);
    const verdict = async (update: string, type: string, days: number, more: object = {}) =>
      analyst.post('/api/verdicts', {
        update,
        revision: '1',
        type,
        populations: ['none'],
        where: `name = ${host.name}`,
        until: await day(days),
        reasons: ['ROUTINE'],
        words: '',
        overrides: [],
        overriddenExceptions: [],
        overriddenFreezes: [],
        also: [],
        ...more,
      });
    const state = async (update: string) =>
      ((await analyst.get(`/api/hosts/${host.name}/updates`)).updates as { id: string; state: string }[]).find((one) => one.id === update)
        ?.state;
    /** "name version" of all that is offered but these. */
    const allBut = (...names: string[]) =>
      ['beta 1.1', 'delta 1.1', 'epsilon 1.1', 'gamma 2.0'].filter((line) => !names.includes(line.split(' ')[0] ?? ''));

    // Let go now: all four are offered.
    for (const update of [beta, gamma, delta, epsilon]) {
      await verdict(update, 'DEFER', 0);
    }
    host.reporter('orders');
    expect(host.offered()).toEqual(allBut());

    await test.step('blocked in the browser, it alone is not offered, and the case says that the host does so', async () => {
      await signIn(page);
      await page.goto(`/cases/${beta}?verdict=BLOCK&for=none&where=${encodeURIComponent(`name = ${host.name}`)}`);
      const hand = page.getByRole('button', { name: 'Block on 1 host' });
      await expect(hand).toBeEnabled();
      await page.keyboard.press('Control+Enter');
      await expect(page.getByText('Block on 1 host.')).toBeVisible();
      const heard = page.getByRole('region', { name: 'Heard by' });
      await expect(heard).toContainText('In force on 0 of 1 host');
      await expect(heard).toContainText(`1 not asked since ${host.name}`);
      host.reporter('orders');
      expect(host.offered()).toEqual(allBut('beta'));
      await expect(heard).toContainText('In force on 1 of 1 host');
      expect(host.reporter('status')).toContain(`withheld    ${beta}: blocked`);
      await page.goto(`/hosts/${host.name}`);
      await expect(page.getByRole('region', { name: 'Orders' })).toContainText('in force, as the host says');
    });

    await test.step('asked on Hosts, it reports by itself, and tells what its sources have and what it keeps back', async () => {
      const watching = host.watch();
      try {
        await page.goto(`/hosts?show=ALL&find=${host.name}`);
        await expect(page.getByRole('row', { name: host.name })).toBeVisible();
        await page.keyboard.press('a');
        const asked = page.getByRole('table', { name: 'Hosts that were asked' }).getByRole('row', { name: host.name });
        await expect(asked).toContainText('by M. Aldane');
        await expect(asked).not.toContainText('not yet', { timeout: 180_000 });
      } finally {
        watching.kill();
      }
      await page.goto(`/hosts/${host.name}?part=products`);
      const product = (name: string) => page.getByRole('table', { name: 'Products' }).getByRole('row', { name: `/${name} ` });
      await expect(product('beta')).toContainText(`${host.version('1.1')} is there, and kept back`);
      await expect(product('delta')).toContainText(`candidate ${host.version('1.1')}`);
      await expect(page.getByText(`${host.folder}/repo: 5 products`)).toBeVisible();
      await page.goto(`/cases/${beta}`);
      // Another root of this kind may stand there from an earlier spec, with the same update on its sources.
      await expect(page.getByRole('region', { name: 'On their sources' })).toContainText(/All \d+ hosts? that lacks? it finds? it/);
    });

    await test.step('what the vendor builds after it has the change too, and is not offered when it comes', () => {
      host.publish('beta', '1.2');
      host.refresh();
      if (kind === 'deb') {
        // apt calls the reporter as its lists come in; dnf asks the plugin each time.
        expect(readFileSync(host.file('etc/apt/preferences.d/00-lucid-reporter'), 'utf8')).toContain('Pin: version 1.2-1');
      }
      expect(host.offered()).toEqual(allBut('beta'));
    });

    await test.step('cut off and tampered with, it keeps what it has', async () => {
      const before = host.offered();
      const settings = host.file('etc/lucid-reporter/reporter.conf');
      const good = readFileSync(settings, 'utf8');
      writeFileSync(settings, good.replace(server, 'http://127.0.0.1:1'));
      expect(host.reporter('orders')).toContain('the server could not be reached; what is kept stays in force');
      expect(host.offered()).toEqual(before);
      // Somebody in between sends other orders than were signed, older ones, and those of another host.
      const kept = readFileSync(host.file('var/lib/lucid-reporter/orders.jws'), 'utf8').trim();
      const [head, content, signature] = kept.split('.') as [string, string, string];
      const text = Buffer.from(content, 'base64url').toString();
      const altered = Buffer.from(text.replace('WITHHELD', 'OFFERED')).toString('base64url');
      const liar = createServer((_, answer) => {
        answer.setHeader('ETag', '"lie"');
        answer.end(`${head}.${altered}.${signature}`);
      });
      await new Promise<void>((done) => liar.listen(0, '127.0.0.1', done));
      const { port } = liar.address() as AddressInfo;
      writeFileSync(settings, good.replace(server, `http://127.0.0.1:${port}`));
      const said = await host.reporterBeside('orders');
      liar.close();
      expect(said).toContain('the signature of the new orders is bad; those before stay in force');
      expect(host.offered()).toEqual(before);
      writeFileSync(settings, good);
      // A write that was cut off leaves a part beside what counts; the same orders are heard again.
      writeFileSync(host.file('var/lib/lucid-reporter/orders.jws.new'), kept.slice(0, 100));
      // Two at once: one waits for the other.
      const [one, other] = await Promise.all([host.reporterBeside('orders'), host.reporterBeside('orders')]);
      expect(one + other).toBe('');
      expect(host.offered()).toEqual(before);
      expect(await analyst.get(`/api/hosts/${host.name}/heard`)).toMatchObject({ became: 'IN_FORCE', problems: [] });
    });

    await test.step('taken back, it is offered again: a host that waits hears of it by itself', async () => {
      const watching = host.watch();
      try {
        await page.goto(`/cases/${beta}`);
        // Not the freeze or the caution that may stand above every page.
        await page.getByRole('complementary').getByRole('button', { name: 'Take back', exact: true }).first().click();
        await page.getByRole('dialog').getByRole('button', { name: 'Take it back' }).click();
        await expect(page.getByText(/^Taken back: block for/)).toBeVisible();
        // What could not be put in force at once is tried again by the next time it listens, which is within a minute.
        await expect.poll(() => host.offered(), { timeout: 180_000 }).toEqual(['beta 1.2', ...allBut('beta')]);
      } finally {
        watching.kill();
        await info.attach('what the host says', { body: host.reporter('status') });
      }
    });

    await test.step('a new revision past a block is offered as the ruling says', async () => {
      await verdict(epsilon, 'BLOCK', 20);
      host.reporter('orders');
      expect(host.offered()).toEqual(['beta 1.2', ...allBut('beta', 'epsilon')]);
      host.publish('epsilon', '1.2');
      host.refresh();
      advise(epsilon, '2', 'epsilon', '1.2');
      // Other fixes: the block holds to its end.
      host.reporter('orders');
      expect(host.offered()).toEqual(['beta 1.2', ...allBut('beta', 'epsilon')]);
      await verdict(epsilon, 'FORCE', 5, { revision: '2', overrides: await blocks(analyst, epsilon) });
      host.reporter('orders');
      expect(host.offered()).toEqual(['beta 1.2', 'delta 1.1', 'epsilon 1.2', 'gamma 2.0']);
    });

    await test.step('forced and due, exactly one of four is installed', async () => {
      host.switchInstallsOn();
      await verdict(delta, 'FORCE', 0);
      // Not before it is due.
      host.reporter('orders');
      expect(host.installed('delta')).toBe('1.0');
      await analyst.advance(30);
      // On battery it waits, due or not, and says why; plugged in, it goes on.
      host.power('BAT0', { type: 'Battery', capacity: '20' });
      expect(host.reporter('orders')).toContain(`${delta} waits: it is on battery, charged to 20 %; its population asks for 40 %`);
      expect(host.installed('delta')).toBe('1.0');
      expect((await analyst.get(`/api/hosts/${host.name}/heard`)).problems.join()).toContain('charged to 20 %');
      host.power('AC', { type: 'Mains', online: '1' });
      if (kind === 'deb') {
        // Somebody else has the package manager in hand: that is told, and tried again.
        const busy = await holding(host.file('var/lib/dpkg/lock-frontend'));
        expect(host.reporter('orders')).toContain('the package manager is at work for somebody else');
        expect(host.installed('delta')).toBe('1.0');
        busy.kill();
        await new Promise((gone) => busy.once('close', gone));
      }
      expect(host.reporter('orders')).toMatch(new RegExp(`${delta}: done in \\d+ s`));
      expect(host.installed('delta')).toBe('1.1');
      expect(host.installed('beta')).toBe('1.0');
      expect(host.installed('epsilon')).toBe('1.0');
      expect(await state(delta)).toBe('CARRIES');
      await page.goto(`/hosts/${host.name}?part=history`);
      await expect(page.getByText(`Told: it installed ${delta}.`)).toBeVisible();
    });

    await test.step('removed, the earlier version is there again and the removed one is not offered', async () => {
      await verdict(delta, 'BLOCK', 20, { removes: true, overrides: [] });
      host.reporter('orders');
      expect(host.installed('delta')).toBe('1.0');
      expect(host.offered().filter((line) => line.startsWith('delta'))).toEqual([]);
      expect(await state(delta)).toBe('MISSING');
    });

    await test.step('taken off the host, nothing of it stays', () => {
      host.reporter('uninstall');
      expect(existsSync(host.file('etc/apt/preferences.d/00-lucid-reporter'))).toBe(false);
      expect(existsSync(host.file('var/lib/lucid-reporter'))).toBe(false);
      expect(host.offered()).toContain('delta 1.1');
    });
  });
}

test('the reporter comes as a deb and as an rpm, which the package systems take', () => {
  const folder = mkdtempSync(join(tmpdir(), 'lucid-packages-'));
  run('../reporter/build-packages', folder);
  const deb = join(folder, 'lucid-reporter_1.0_all.deb');
  const rpm = join(folder, 'lucid-reporter-1.0-1.noarch.rpm');
  const files = run('dpkg-deb', '--contents', deb)
    .split('\n')
    .map((line) => /\.(\/.*[^/])$/.exec(line)?.[1])
    .filter((path) => path !== undefined);
  expect(files).toContain('/usr/bin/lucid-reporter');
  expect(files).toContain('/usr/lib/systemd/system/lucid-reporter-watch.service');
  const ofRpm = run('rpm', '-qlp', '--nosignature', rpm).trim().split('\n');
  expect(files.filter((path) => !ofRpm.includes(path))).toEqual([]);
  run('dpkg-deb', '--extract', deb, join(folder, 'unpacked'));
  expect(run(join(folder, 'unpacked/usr/bin/lucid-reporter'), 'report', '--print', '--days', '0')).toContain('"t":"end"');
});

/** A program that holds a lock as dpkg does, until it is killed. */
async function holding(file: string): Promise<ChildProcess> {
  const program =
    'import fcntl, sys; f = open(sys.argv[1], "w"); fcntl.lockf(f, fcntl.LOCK_EX); print("held", flush=True); sys.stdin.read()';
  const holder = spawn('/usr/bin/python3', ['-c', program, file], { stdio: ['pipe', 'pipe', 'inherit'] });
  await new Promise((held) => holder.stdout.once('data', held));
  return holder;
}

/** Numbers of the blocks on an update. */
async function blocks(session: Session, update: string): Promise<number[]> {
  const page = (await session.get(`/api/cases/${update}`)) as { verdicts: { number: number; type: string; stands: boolean }[] };
  return page.verdicts.filter((one) => one.type === 'BLOCK').map((one) => one.number);
}
