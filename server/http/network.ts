import type { Request } from 'express';
import { ipKeyGenerator } from 'express-rate-limit';
import ipaddr from 'ipaddr.js';

/** Prefix length of an IPv6 network, all of whose addresses one subscriber has. */
const IPV6_PREFIX = 64;

/**
 * Network of a request, for rate limits: an IPv4 address, or an IPv6 network of /64. Ports, which some proxies append, and
 * IPv4 addresses written as IPv6 are ignored; anything else counts as one network.
 */
export function networkOf({ ip = '' }: Pick<Request, 'ip'>): string {
  const bare = /^\[(.+)\](?::\d+)?$/.exec(ip)?.[1] ?? /^(\d+(?:\.\d+){3}):\d+$/.exec(ip)?.[1] ?? ip;
  return ipaddr.isValid(bare) ? ipKeyGenerator(ipaddr.process(bare).toString(), IPV6_PREFIX) : '';
}
