import { CALLS } from '#core/contract/calls.ts';
import { problemsOf } from '#core/contract/callProblems.ts';

const KNOWN = CALLS.map((call) => ({
  method: call.method.toUpperCase(),
  path: new RegExp(`^${call.path.replaceAll(/[.]/g, '\\.').replaceAll(/\{\w+\}/g, '[^/]+')}$`),
  codes: new Set<string>(problemsOf(call)),
}));

/** @throws {Error} when a call answers with a problem that its contract does not declare */
export function checkDeclared(method: string, address: string, body: unknown): void {
  const [path = ''] = address.split('?');
  const type = typeof body === 'object' && body !== null && 'type' in body ? String(body.type) : '';
  const [, code] = /^urn:understudy:problem:(.+)$/.exec(type) ?? [];
  const call = KNOWN.find((one) => one.method === method && one.path.test(path));
  if (call && code !== undefined && !call.codes.has(code))
    throw new Error(`${method} ${path} does not declare ${code}`);
}
