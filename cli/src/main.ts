import { FaultError, faultLine } from '@true-lantern/core/system/faults';
import { isPicture } from './picture-path';
import { run, type Answer } from './run';

const argv = process.argv.slice(2);

/** A picture takes a reader of its own, which is loaded only for it. */
async function picture(path: string, flags: readonly string[]): Promise<Answer> {
  try {
    const { pictureVerb } = await import('./picture');
    const at = flags.indexOf('--kind');
    return {
      code: 0,
      out: `${JSON.stringify(await pictureVerb(path, at < 0 ? undefined : (flags[at + 1] ?? '')), null, 1)}\n`,
      err: '',
    };
  } catch (error) {
    if (error instanceof FaultError) return { code: 2, out: '', err: `${error.faults.map(faultLine).join('\n')}\n` };
    throw error;
  }
}

function finish({ code, out, err }: Answer): void {
  if (err) process.stderr.write(err);
  // Exit by letting the loop drain: `process.exit` would cut a long answer short in a pipe.
  if (out) process.stdout.write(out);
  process.exitCode = code;
}

const [verb, path, ...flags] = argv;
if (verb === 'plate' && path !== undefined && !path.startsWith('--') && isPicture(path))
  void picture(path, flags).then(finish);
else finish(run(argv));
