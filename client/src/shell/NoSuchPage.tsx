import { router } from 'expo-router';
import { Button, Plain } from '../ui/controls';

/** An address that leads nowhere: said in our own words, with a way back. */
export function NoSuchPage() {
  return (
    <Plain title="Page not found." text="The link may be old or incomplete.">
      <Button label="All sites" kind="main" onPress={() => router.replace('/')} />
    </Plain>
  );
}
