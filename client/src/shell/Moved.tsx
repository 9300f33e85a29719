import { Redirect, useGlobalSearchParams } from 'expo-router';

/** An address of an earlier version, as people keep it in bookmarks and messages: it leads to where the page is now. */
export function Moved({ to }: { to: string }) {
  const { id, proposal, ...rest } = useGlobalSearchParams<Record<string, string>>();
  const asked = new URLSearchParams(rest).toString();
  const page = proposal ? `${to}/${encodeURIComponent(proposal)}` : to;
  return <Redirect href={`/site/${encodeURIComponent(id ?? '')}/${page}${asked ? `?${asked}` : ''}`} />;
}
