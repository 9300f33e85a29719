import { errorOf } from '@true-lantern/core';
import { createTransport } from 'nodemailer';
import type { Config } from '../config';

/** Mail, only where MAIL_URL is set: a link to the one person whom it is for. Nothing else is ever mailed. */
export interface Mail {
  to: string;
  subject: string;
  text: string;
}
/** @returns whether the mail server took it; a link is shown all the same where it did not */
export type Post = (mail: Mail) => Promise<boolean>;

/** A mail server that does not answer holds nobody up for longer. */
const PATIENCE_MS = 8000;

/** Null where this server mails nothing. */
export function postOf({ mailUrl, mailFrom, publicUrl }: Config, failed: (error: Error) => void): Post | null {
  if (!mailUrl || !publicUrl) return null;
  const transport = createTransport({
    url: mailUrl,
    connectionTimeout: PATIENCE_MS,
    greetingTimeout: PATIENCE_MS,
    socketTimeout: PATIENCE_MS,
  });
  const from = mailFrom ?? `true-lantern@${new URL(publicUrl).hostname}`;
  return async (mail) => {
    try {
      await transport.sendMail({ from, ...mail });
      return true;
    } catch (error) {
      failed(errorOf(error));
      return false;
    }
  };
}

/** An invitation, or a password reset link, in plain words. */
export function linkMail(to: string, firm: string, address: string, person: string | null): Mail {
  return person
    ? {
        to,
        subject: `${firm}: password reset for True Lantern`,
        text: `${person}, an owner of ${firm} has created a link to reset your password. It works once:\n\n${address}\n\nIf you did not ask for it, tell the owner and do not use it.\n`,
      }
    : {
        to,
        subject: `${firm} invites you to True Lantern`,
        text: `${firm} has invited you. This link works once, within seven days:\n\n${address}\n\nAnyone with the link can join: do not pass it on.\n`,
      };
}
