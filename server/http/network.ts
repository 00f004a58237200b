import type { Request } from 'express';
import { ipKeyGenerator } from 'express-rate-limit';

/** Whoever has an IPv6 address has all of these. */
const IPV6_PREFIX = 64;

/** Where a request comes from, as far as limits are concerned: an IPv4 address, or an IPv6 network of /64. */
export const networkOf = ({ ip }: Request): string => (ip === undefined ? '' : ipKeyGenerator(ip, IPV6_PREFIX));
