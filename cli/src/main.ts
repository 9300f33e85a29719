import { isPicture } from './picture-path';
import { parse } from './flags';
import { PLATE_CALL } from './plate';
import { printedAs, refused, type Answer } from './answer';
import { run } from './run';

const argv = process.argv.slice(2);

/** A picture takes a reader of its own, which is loaded only for it. */
async function picture(rest: string[]): Promise<Answer> {
  try {
    const {
      args: [path = ''],
      flags: { kind },
    } = parse(PLATE_CALL, rest);
    const { pictureVerb } = await import('./picture');
    return { code: 0, out: printedAs(await pictureVerb(path, kind)), err: '' };
  } catch (error) {
    return refused(error);
  }
}

function finish({ code, out, err }: Answer): void {
  if (err) process.stderr.write(err);
  // Exit by letting the loop drain: `process.exit` would cut a long answer short in a pipe.
  if (out) process.stdout.write(out);
  process.exitCode = code;
}

const [verb, ...rest] = argv;
if (verb === 'plate' && rest.some(isPicture)) void picture(rest).then(finish);
else finish(run(argv));
