import { run } from './run';

const { code, out, err } = run(process.argv.slice(2));
if (err) process.stderr.write(err);
// Exit by letting the loop drain: `process.exit` would cut a long answer short in a pipe.
if (out) process.stdout.write(out);
process.exitCode = code;
