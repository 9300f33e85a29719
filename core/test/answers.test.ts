import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { answerOf, linesOf, QUESTIONS } from './answered';

/**
 * No answer of the core changes unseen: what differs here was meant, and is read before it is kept. `npm run answers`
 * keeps what is answered now; the difference goes into the commit that made it.
 */
const folder = join(__dirname, 'answers');

for (const [name, ask] of QUESTIONS)
  test(`the answer of ${name} is the one that was read last`, () => {
    const lines = linesOf(answerOf(ask));
    if (process.env.ANSWERS === 'keep') {
      mkdirSync(folder, { recursive: true });
      writeFileSync(join(folder, `${name}.txt`), `${lines.join('\n')}\n`);
    }
    expect(lines).toEqual(
      readFileSync(join(folder, `${name}.txt`), 'utf8')
        .split('\n')
        .slice(0, -1),
    );
  });
