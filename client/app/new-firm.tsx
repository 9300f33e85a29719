import { Redirect } from 'expo-router';

/** For whoever is not signed in the gate shows the form; who is has a firm already. */
export default function NewFirmRoute() {
  return <Redirect href="/" />;
}
