import { useQuery } from '@tanstack/react-query';
import {
  browserSupportsWebAuthn,
  startAuthentication,
  startRegistration,
  type PublicKeyCredentialCreationOptionsJSON,
  type PublicKeyCredentialRequestOptionsJSON,
} from '@simplewebauthn/browser';
import type { PasskeyOptions, PasskeysAnswer } from '@true-lantern/wire';
import { ask, askIn } from './api';

/** Passkeys: the device's own lock, or a key on the ring, in the place of a password. */

/** Only where the page is served securely, or by this machine itself. */
export const passkeysWork = (): boolean => browserSupportsWebAuthn();

/** The passkeys of whoever is signed in. */
export const usePasskeys = () =>
  useQuery({ queryKey: ['passkeys'], queryFn: () => ask<PasskeysAnswer>('GET', '/passkeys') });

/** Makes a passkey on this device under a name. @throws NoSignal, ApiError, or what the browser says */
export async function addPasskey(name: string): Promise<PasskeysAnswer> {
  const { options, state } = await ask<PasskeyOptions<PublicKeyCredentialCreationOptionsJSON>>(
    'POST',
    '/passkeys/options',
    {},
  );
  const answer = await startRegistration({ optionsJSON: options });
  return ask<PasskeysAnswer>('POST', '/passkeys', { name, state, answer });
}

/** Takes a passkey away. @throws NoSignal, ApiError */
export const removePasskey = (id: string) => ask<undefined>('DELETE', `/passkeys/${id}`);

/** Signs in by a passkey. @throws NoSignal, ApiError, or what the browser says */
export async function enterByPasskey() {
  const { options, state } = await ask<PasskeyOptions<PublicKeyCredentialRequestOptionsJSON>>(
    'POST',
    '/session/passkey/options',
    {},
  );
  const answer = await startAuthentication({ optionsJSON: options });
  return askIn('POST', '/session/passkey', { state, answer });
}

/** The browser's own words for a person who thought better of it are no trouble. */
export const isGivenUp = (error: unknown): boolean => error instanceof Error && error.name === 'NotAllowedError';
