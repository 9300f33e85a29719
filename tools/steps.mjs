// Plain Node, no packages: these steps run before anything is installed.
import { spawn, spawnSync } from 'node:child_process';
import { createHash, randomBytes } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, readdirSync, statSync, writeFileSync } from 'node:fs';
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
export function ensurePackages() {
  const [major, minor] = process.versions.node.split('.').map(Number);
  if (major < 20 || (major === 20 && minor < 19))
    throw new Sentence(`Node ${process.versions.node} is too old; True Lantern needs 20.19 or newer.`);
  const lock = createHash('sha256')
    .update(readFileSync(join(ROOT, 'package-lock.json')))
    .digest('hex');
  if (existsSync(join(ROOT, 'node_modules', 'tsx')) && stamped('npm', lock)) return;
  say('Installing the npm packages (a few minutes, once) ...');
  must('npm', ['ci', '--no-audit', '--no-fund'], {
    what: 'Installing the npm packages',
    log: 'npm-ci.log',
    env: { PLAYWRIGHT_SKIP_BROWSER_DOWNLOAD: '1' },
  });
  stamp('npm', lock);
}

/** A Debian package, when `present` says that it is missing. */
export function ensureDebian(packageName, present) {
  if (present()) return;
  const root = process.getuid?.() === 0;
  if (!existsSync('/usr/bin/apt-get'))
    throw new Sentence(`${packageName} is missing and this is no Debian; install it and run the command again.`);
  if (!root && spawnSync('sudo', ['-v'], { stdio: 'inherit' }).status !== 0)
    throw new Sentence(
      `${packageName} is missing; installing it needs root or sudo: run "sudo apt-get install ${packageName}" once.`,
    );
  say(`Installing ${packageName} from Debian's packages ...`);
  const apt = (...args) =>
    must(root ? 'apt-get' : 'sudo', root ? args : ['apt-get', ...args], {
      what: `Installing ${packageName}`,
      log: 'apt-get.log',
      env: { DEBIAN_FRONTEND: 'noninteractive' },
    });
  apt('update', '-qq');
  apt('install', '-y', '-qq', packageName);
  if (!present()) throw new Sentence(`${packageName} was installed but is not where it is expected.`);
}

export const CHROMIUM = '/usr/bin/chromium';
export const ensureChromium = () => ensureDebian('chromium', () => existsSync(CHROMIUM));

export const ensureSpice = () => ensureDebian('ngspice', () => existsSync('/usr/bin/ngspice'));

/** The broker that the tests of live values speak to. */
export const ensureBroker = () => ensureDebian('mosquitto', () => existsSync('/usr/sbin/mosquitto'));

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
