import { lookup } from 'node:dns/promises';
import { BlockList, isIP } from 'node:net';

/**
 * Which hosts this server may speak to of itself. A person of a firm writes a device's name; whoever keeps the server says which
 * there may be (MODBUS_ALLOW), or a form would open every door of the network behind it.
 */

/** Never, whoever allows it: the machine's own neighbours without an address, and where clouds keep their secrets. */
const NEVER = new BlockList();
for (const [net, bits, family] of [
  ['0.0.0.0', 8, 'ipv4'],
  ['169.254.0.0', 16, 'ipv4'],
  ['100.100.100.200', 32, 'ipv4'],
  ['192.0.0.192', 32, 'ipv4'],
  ['224.0.0.0', 3, 'ipv4'],
  ['::', 128, 'ipv6'],
  ['fe80::', 10, 'ipv6'],
  ['fd00:ec2::254', 128, 'ipv6'],
  ['fd20:ce::254', 128, 'ipv6'],
  ['ff00::', 8, 'ipv6'],
] as const)
  NEVER.addSubnet(net, bits, family);

const LOOPBACK = new BlockList();
LOOPBACK.addSubnet('127.0.0.0', 8, 'ipv4');
LOOPBACK.addAddress('::1', 'ipv6');

/** What MODBUS_ALLOW says. */
export interface Allowed {
  names: ReadonlySet<string>;
  nets: BlockList;
}

/**
 * Names and networks, parted by commas or spaces: `inverter.lan, 10.8.0.0/16`.
 * @throws Error that names what is neither
 */
export function readAllowed(text: string): Allowed {
  const names = new Set<string>();
  const nets = new BlockList();
  for (const entry of text.split(/[\s,]+/).filter(Boolean)) {
    const [address = '', bits] = entry.split('/');
    const family = isIP(address);
    const most = family === 4 ? 32 : 128;
    const length = bits === undefined ? most : Number(bits);
    if (family && Number.isInteger(length) && length >= 0 && length <= most)
      nets.addSubnet(address, length, family === 4 ? 'ipv4' : 'ipv6');
    else if (bits === undefined && /^(?!-)[a-z0-9-]+(\.[a-z0-9-]+)*\.?$/i.test(entry) && !/^[\d.]+$/.test(entry))
      names.add(entry.toLowerCase());
    else throw new Error(`MODBUS_ALLOW has "${entry}", expected names or networks such as inverter.lan, 10.8.0.0/16`);
  }
  return { names, nets };
}

const familyOf = (address: string) => (isIP(address) === 4 ? 'ipv4' : 'ipv6');
/** An IPv4 address in IPv6 clothes is judged as what it is. */
const plain = (address: string) => /^::ffff:(\d+\.\d+\.\d+\.\d+)$/i.exec(address)?.[1] ?? address;

/** Why an address is not spoken to; null where it may be. `named`: the host's name is on the list. */
export function refusal(given: string, { nets }: Allowed, named: boolean): string | null {
  const address = plain(given);
  const family = familyOf(address);
  if (NEVER.check(address, family)) return `${address} is an address that is never asked`;
  if (nets.check(address, family)) return null;
  // A name that is listed may lead anywhere but back to this machine.
  if (named && !LOOPBACK.check(address, family)) return null;
  return named
    ? `the name leads to ${address}, this machine itself`
    : `${address} is not on this server's list of devices (MODBUS_ALLOW)`;
}

/**
 * The one address that a host is asked at: looked up once, judged, and used as it is, so that a name cannot lead elsewhere between
 * the question and the connection.
 * @throws Error in a sentence for a person
 */
export async function addressOf(host: string, allowed: Allowed, find: typeof lookup = lookup): Promise<string> {
  const name = host.trim().toLowerCase();
  const listed = allowed.names.has(name);
  // A name that nobody listed is looked up only where networks are: what it leads to is judged.
  const found = isIP(name) ? [{ address: name }] : await find(name, { all: true }).catch(() => []);
  if (found.length === 0) throw new Error(`"${host}" is not known to this server's network`);
  for (const { address } of found) {
    const why = refusal(address, allowed, listed);
    if (why) throw new Error(why);
  }
  return plain(found[0]?.address ?? name);
}
