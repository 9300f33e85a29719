// Plain Node, no packages: these steps run before anything is installed.
import { spawn, spawnSync } from 'node:child_process';
import { createHash, randomBytes } from 'node:crypto';
import {
  closeSync,
  existsSync,
  mkdirSync,
  openSync,
  readFileSync,
  readdirSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import { createServer } from 'node:net';
import { dirname, join, relative } from 'node:path';
import { fileURLToPath } from 'node:url';

export const ROOT = dirname(dirname(fileURLToPath(import.meta.url)));
/** Everything that the commands make lives here; git ignores it. */
export const WORK = join(ROOT, '.lantern');
mkdirSync(WORK, { recursive: true });

/** Something a person has to mend: printed as one sentence, without a stack. */
export class Sentence extends Error {}

export const say = (line) => process.stdout.write(`${line}\n`);

/** Runs a command to its end. Its output goes to a log, which is named when it fails. */
export function must(command, args, { what, cwd = ROOT, env = {}, log = `${command}.log`, uid, gid } = {}) {
  const result = spawnSync(command, args, {
    cwd,
    env: { ...process.env, ...env },
    encoding: 'utf8',
    maxBuffer: 1 << 28,
    ...(uid === undefined ? {} : { uid, gid }),
  });
  if (result.status === 0) return result.stdout;
  const file = join(WORK, log);
  writeFileSync(file, `${result.stdout ?? ''}${result.stderr ?? ''}${result.error ?? ''}`);
  throw new Sentence(`${what ?? command} failed; what it said is in ${relative(ROOT, file)}.`);
}

/** As `must`, while other things go on; says every so often how far it is. */
export async function mustInTime(
  command,
  args,
  { what, cwd = ROOT, env = {}, log = `${command}.log`, far = () => '' },
) {
  const file = join(WORK, log);
  const output = openSync(file, 'w');
  const child = spawn(command, args, { cwd, env: { ...process.env, ...env }, stdio: ['ignore', output, output] });
  const from = Date.now();
  const told = setInterval(() => say(`  ... ${Math.round((Date.now() - from) / 1000)} s${far()}`), 20_000);
  const code = await new Promise((resolve) => child.once('exit', resolve).once('error', () => resolve(1)));
  clearInterval(told);
  closeSync(output);
  if (code !== 0) throw new Sentence(`${what} failed; what it said is in ${relative(ROOT, file)}.`);
}

/** A digest of the files below some places, by name, size and time: has anything changed since? */
export function fingerprint(places) {
  const hash = createHash('sha256');
  const visit = (path) => {
    const stat = statSync(path);
    if (stat.isDirectory()) {
      for (const name of readdirSync(path).sort())
        // Tests change nothing that is built; what is built changes nothing either.
        if (!['node_modules', 'dist', '.expo', 'test'].includes(name)) visit(join(path, name));
    } else hash.update(`${relative(ROOT, path)} ${stat.size} ${stat.mtimeMs}\n`);
  };
  for (const place of places) if (existsSync(join(ROOT, place))) visit(join(ROOT, place));
  return hash.digest('hex');
}

const stampFile = (name) => join(WORK, `${name}.stamp`);
export const stamped = (name, value) => existsSync(stampFile(name)) && readFileSync(stampFile(name), 'utf8') === value;
export const stamp = (name, value) => writeFileSync(stampFile(name), value);

/** npm packages, from the lock file, when they are missing or the lock has changed. */
export async function ensurePackages() {
  const [major, minor] = process.versions.node.split('.').map(Number);
  if (major < 20 || (major === 20 && minor < 19))
    throw new Sentence(`Node ${process.versions.node} is too old; True Lantern needs 20.19 or newer.`);
  const text = readFileSync(join(ROOT, 'package-lock.json'));
  const lock = createHash('sha256').update(text).digest('hex');
  if (existsSync(join(ROOT, 'node_modules', 'tsx')) && stamped('npm', lock)) return;
  const places = Object.keys(JSON.parse(text).packages).filter((place) => place.includes('node_modules/'));
  const there = () => places.filter((place) => existsSync(join(ROOT, place, 'package.json'))).length;
  say('Installing the npm packages (two minutes, once) ...');
  await mustInTime('npm', ['ci', '--no-audit', '--no-fund'], {
    what: 'Installing the npm packages',
    log: 'npm-ci.log',
    env: { PLAYWRIGHT_SKIP_BROWSER_DOWNLOAD: '1' },
    far: () => `, ${there()} of ${places.length} packages`,
  });
  stamp('npm', lock);
}

/**
 * Debian packages that are missing, in one go and in a process of their own, so that other work goes on meanwhile.
 * Resolves once they are there.
 * @param wanted each with how one knows that it is there; `lighter`: the package that is taken instead where Debian has it
 */
export async function ensureDebian(...wanted) {
  const missing = wanted.filter(({ present }) => !present());
  if (missing.length === 0) return;
  const names = missing.map(({ name }) => name);
  const said = names.join(', ');
  const root = process.getuid?.() === 0;
  if (!existsSync('/usr/bin/apt-get'))
    throw new Sentence(`${said} missing, and this is no Debian; install it and run the command again.`);
  if (!root && spawnSync('sudo', ['-v'], { stdio: 'inherit' }).status !== 0)
    throw new Sentence(
      `${said} missing; installing it needs root or sudo: run "sudo apt-get install ${names.join(' ')}" once.`,
    );
  say(`Installing ${said} from Debian's packages ...`);
  const apt = root ? 'apt-get' : 'sudo apt-get';
  const packages = missing.map(({ name, lighter }) =>
    lighter ? `$(apt-cache show ${lighter} > /dev/null 2>&1 && echo ${lighter} || echo ${name})` : name,
  );
  await mustInTime('sh', ['-c', `${apt} update -qq && ${apt} install -y -qq ${packages.join(' ')}`], {
    what: `Installing ${said}`,
    log: 'apt-get.log',
    env: { DEBIAN_FRONTEND: 'noninteractive' },
    far: () => ' for Debian’s packages',
  });
  const absent = missing.find(({ present }) => !present());
  if (absent) throw new Sentence(`${absent.name} was installed but is not where it is expected.`);
}

/** Chromium without its window has half the packages and starts quicker; older Debians have the whole alone. */
const CHROMIUMS = JSON.parse(readFileSync(join(ROOT, 'tools', 'chromiums.json'), 'utf8'));
const PG_HOME = '/usr/lib/postgresql';

/** The newest PostgreSQL of Debian's packages; null when there is none. */
export function postgresPrograms() {
  if (!existsSync(PG_HOME)) return null;
  const versions = readdirSync(PG_HOME)
    .filter((name) => existsSync(join(PG_HOME, name, 'bin', 'initdb')))
    .sort((a, b) => Number(b) - Number(a));
  return versions[0] ? join(PG_HOME, versions[0], 'bin') : null;
}

/** What comes from Debian's packages. */
export const DEBIAN = {
  postgres: { name: 'postgresql', present: () => postgresPrograms() !== null },
  chromium: {
    name: 'chromium',
    lighter: 'chromium-headless-shell',
    present: () => CHROMIUMS.some((path) => existsSync(path)),
  },
  // The tests compare networks of cables with it.
  spice: { name: 'ngspice', present: () => existsSync('/usr/bin/ngspice') },
  // The broker that the tests of live values speak to.
  broker: { name: 'mosquitto', present: () => existsSync('/usr/sbin/mosquitto') },
  // What stands in front of two servers in a test.
  proxy: { name: 'nginx', present: () => existsSync('/usr/sbin/nginx') },
  // Devices of somebody else's making, that answer by Modbus.
  modbus: { name: 'python3-pymodbus', present: () => existsSync('/usr/lib/python3/dist-packages/pymodbus') },
};

export const freePort = () =>
  new Promise((resolve, reject) => {
    const probe = createServer();
    probe.once('error', reject);
    probe.listen(0, '127.0.0.1', () => {
      const { port } = probe.address();
      probe.close(() => resolve(port));
    });
  });

export const portIsFree = (port) =>
  new Promise((resolve) => {
    const probe = createServer();
    probe.once('error', () => resolve(false));
    probe.listen(port, '127.0.0.1', () => probe.close(() => resolve(true)));
  });

export const secret = () => randomBytes(24).toString('hex');

/** Waits until the server answers its health route; false when it died or took too long. */
export async function healthy(address, child, seconds = 60) {
  for (let i = 0; i < seconds * 10; i++) {
    if (child.exitCode !== null) return false;
    try {
      if ((await fetch(`${address}/api/health`)).ok) return true;
    } catch {
      // Not listening yet.
    }
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  return false;
}

/** Ends a child of ours and waits until it is gone. */
export const stop = (child) =>
  new Promise((resolve) => {
    if (child.exitCode !== null || child.signalCode !== null) return resolve();
    child.once('exit', resolve);
    child.kill('SIGTERM');
  });

export const launch = (command, args, options) => spawn(command, args, { cwd: ROOT, ...options });

/** Runs the main of a tool: a `Sentence` is printed as such, anything else is a bug and shows its stack. */
export function runMain(main) {
  main().catch((error) => {
    process.stderr.write(error instanceof Sentence ? `${error.message}\n` : `${error.stack}\n`);
    process.exit(1);
  });
}
