import type { AddressInfo } from 'node:net';
import { SMTPServer } from 'smtp-server';
import { readConfig } from '../src/config';
import { startRig, Visitor, type Rig } from './site-of-two-firms';

/** Links are mailed where a mail server is named, to the one person, and lead to this server whatever a request says. */

const received: { to: string; text: string }[] = [];
let smtp: SMTPServer;
let rig: Rig;
let owner: Visitor;

beforeAll(async () => {
  smtp = new SMTPServer({
    authOptional: true,
    disabledCommands: ['STARTTLS', 'AUTH'],
    onData(stream, session, done) {
      let text = '';
      stream.on('data', (chunk: Buffer) => (text += chunk.toString('utf8')));
      stream.on('end', () => {
        received.push({ to: session.envelope.rcptTo.map(({ address }) => address).join(), text: plain(text) });
        done();
      });
    },
  });
  await new Promise<void>((ready) => smtp.listen(0, '127.0.0.1', ready));
  const { port } = smtp.server.address() as AddressInfo;
  rig = await startRig({ mailUrl: `smtp://127.0.0.1:${port}`, publicUrl: 'https://lantern.example' });
  owner = new Visitor(rig.address);
  await owner.signIn('ann@ours.example');
}, 60_000);
afterAll(async () => {
  await rig.close();
  await new Promise<void>((closed) => smtp.close(() => closed()));
});

/** Quoted-printable undone: a long link is cut with "=" at the line's end. */
const plain = (text: string) =>
  text.replace(/=\r?\n/g, '').replace(/=([0-9A-F]{2})/g, (_, hex: string) => String.fromCharCode(parseInt(hex, 16)));
interface Made {
  address: string;
  mailed: string | null;
}
const made = (reply: { body: unknown }) => reply.body as Made;

test('an invitation is mailed to whom the owner names, with the link as it is shown', async () => {
  const reply = await owner.call('POST', '/invitations', { role: 'technician', email: 'nell@ferry.example' });
  expect(reply.status).toBe(201);
  const { address, mailed } = made(reply);
  expect(mailed).toBe('nell@ferry.example');
  expect(address).toMatch(/^https:\/\/lantern\.example\/join\//);
  expect(received.at(-1)).toMatchObject({ to: 'nell@ferry.example' });
  expect(received.at(-1)?.text).toContain(address);
});
test('without an address nothing is mailed; a wrong one is refused with its path', async () => {
  const before = received.length;
  expect(made(await owner.call('POST', '/invitations', { role: 'reader' })).mailed).toBeNull();
  const wrong = await owner.call('POST', '/invitations', { role: 'reader', email: 'nell' });
  expect(wrong.status).toBe(422);
  expect(wrong.body.faults.map(({ path }) => path)).toEqual(['email']);
  expect(received.length).toBe(before);
});
test('a link for another password goes to the person\u2019s own address, and to no other', async () => {
  const { people } = (await owner.call('GET', '/people')).body as unknown as {
    people: { id: string; email: string }[];
  };
  const rob = people.find(({ email }) => email === 'rob@ours.example')!;
  const reply = await owner.call('POST', `/people/${rob.id}/password-link`, { email: 'eve@theirs.example' });
  expect(made(reply).mailed).toBe('rob@ours.example');
  expect(received.at(-1)).toMatchObject({ to: 'rob@ours.example' });
});
test('the screen is told that links are mailed here', async () => {
  expect((await owner.call('GET', '/session')).body).toMatchObject({ mails: true });
});
test('a mail server that is gone keeps nobody from the link', async () => {
  const deaf = await startRig({ mailUrl: 'smtp://127.0.0.1:9', publicUrl: 'https://lantern.example' });
  try {
    const visitor = new Visitor(deaf.address);
    await visitor.signIn('ann@ours.example');
    const reply = await visitor.call('POST', '/invitations', { role: 'reader', email: 'nell@ferry.example' });
    expect(reply.status).toBe(201);
    expect(made(reply)).toMatchObject({ mailed: null, address: expect.stringMatching(/\/join\//) as string });
  } finally {
    await deaf.close();
  }
}, 60_000);

describe('settings', () => {
  const env = { DATABASE_URL: 'postgres://x', SESSION_SECRET: 'x'.repeat(32) };
  test('mail wants the address to which its links lead', () => {
    expect(() => readConfig({ ...env, MAIL_URL: 'smtp://mail.example:25' })).toThrow(/PUBLIC_URL is missing/);
    expect(
      readConfig({ ...env, MAIL_URL: 'smtp://mail.example:25', PUBLIC_URL: 'https://lantern.example' }).mailUrl,
    ).toBe('smtp://mail.example:25');
  });
  test('what is no mail server is refused by name', () => {
    expect(() => readConfig({ ...env, MAIL_URL: 'mail.example', PUBLIC_URL: 'https://lantern.example' })).toThrow(
      /MAIL_URL is no address/,
    );
  });
});
