import signIn from '../../../demo/sign-in.json';

/** Offered in one tap on the sign-in screen, and only when the server was started as the demo. */
export const DEMO_SIGN_IN: { email: string; password: string } = signIn;
