import type { Express, Request, RequestHandler } from 'express';
import type { Call } from '#core/contract/call.ts';

/** Kinds of access, as `Call.auth` names them. */
export type Access = Call['auth'];

/** By kind of access, the handler that lets a request go on, or throws a 401 or 403. It runs before anything of the request is read. */
export type AccessRules = Readonly<Record<Access, RequestHandler>>;

/** Does the work of a call and records who did it. */
export type Recorder = <Answer extends { readonly status: number }>(
  call: Call,
  request: Request,
  input: { readonly params: unknown; readonly body: unknown },
  work: () => Promise<Answer>,
) => Promise<Answer>;

const NO_RECORD: Recorder = (_call, _request, _input, work) => work();

type Method = Call['method'];

/**
 * The only way to answer a request: nothing is mounted without saying who may call it, and who may is asked first,
 * before limits and before a body is read. `seal` refuses to start a server that has a route from anywhere else.
 */
export class Endpoints {
  private readonly routes = new Set<unknown>();
  private readonly mounted = new Set<string>();

  constructor(
    private readonly app: Express,
    private readonly rules: AccessRules,
    readonly recorded: Recorder = NO_RECORD,
  ) {}

  /** Mounts handlers at a path in Express's form. @throws {Error} when something is there already */
  mount(method: Method, path: string, access: Access, ...handlers: RequestHandler[]): void {
    const key = `${method} ${path}`;
    if (this.mounted.has(key)) throw new Error(`${key} is mounted twice`);
    this.mounted.add(key);
    this.app[method](path, this.rules[access], ...handlers);
    this.routes.add(this.app.router.stack.at(-1)?.route);
  }

  /** Mounts a folder of public files. */
  files(path: string, serve: RequestHandler): void {
    this.mount('get', `${path}{/*file}`, 'public', (request, response, next) => {
      const { url } = request;
      request.url = url.slice(path.length) || '/';
      serve(request, response, (error?: unknown) => {
        request.url = url;
        next(error);
      });
    });
  }

  has(method: Method, path: string): boolean {
    return this.mounted.has(`${method} ${path}`);
  }

  /**
   * To be called when everything is mounted.
   * @throws {Error} naming a route without a rule of access, or a call of the contract that is not there
   */
  seal(calls: readonly Call[]): void {
    for (const { route } of this.app.router.stack) {
      if (route && !this.routes.has(route)) throw new Error(`${route.path} has no rule of access`);
    }
    for (const { method, path } of calls) {
      if (!this.has(method, expressPath(path))) throw new Error(`${method} ${path} is described and not mounted`);
    }
  }
}

/** OpenAPI's form of a path in Express's. */
export const expressPath = (path: string): string => path.replace(/\{(\w+)\}/g, ':$1');
