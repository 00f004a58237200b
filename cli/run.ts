import { parseArgs, type ParseArgsConfig } from 'node:util';
import { IMPORT_TARGETS, type TargetName } from '#core/imports/fileReading.ts';
import { explain } from './explain.ts';
import { importFile } from './importFile.ts';
import type { ExitCode, Outcome } from './output.ts';
import { check, diff, pull, push, type Side } from './rules.ts';
import { CommandError, serviceOf } from './service.ts';

export const USAGE = `understudy: rules in files, for those who keep them there.

  understudy check FILE                    whether the rules of a file are right; asks nobody
  understudy diff FILE [--draft]           what it would change of what is live, or of the draft
  understudy pull [FILE] [--draft]         takes what is live, or the draft
  understudy push FILE [--publish] [--note TEXT] [--over-draft]
                                           makes it the draft, and live with --publish
  understudy explain PRODUCT [--draft] [--role ROLE]… [--signed-in] [--listing] [--at TIME]
                                           what somebody sees of a product, and which rules say so
  understudy import FILE --target catalog|people [--replace [--archive]] [--refuse-all] [--preview]
                                           brings products or customers in

  --json      answers with JSON
  --help      this

  UNDERSTUDY_URL    where Understudy is
  UNDERSTUDY_KEY    a key of Settings, Keys for programs: for rules (check, diff, pull, push, explain), for catalog
                    or people (import)

  Ends with 0 where all is well, 1 where something is found that a pipeline should stop for (faults, differences,
  refused rows, unpublished changes in the way), and 2 where the work could not be done.`;

const OPTIONS = {
  json: { type: 'boolean' },
  help: { type: 'boolean' },
  draft: { type: 'boolean' },
  publish: { type: 'boolean' },
  note: { type: 'string' },
  'over-draft': { type: 'boolean' },
  role: { type: 'string', multiple: true },
  'signed-in': { type: 'boolean' },
  listing: { type: 'boolean' },
  at: { type: 'string' },
  target: { type: 'string' },
  replace: { type: 'boolean' },
  archive: { type: 'boolean' },
  'refuse-all': { type: 'boolean' },
  preview: { type: 'boolean' },
} as const satisfies ParseArgsConfig['options'];

/** Output of a command line. */
export interface Output {
  readonly out: (text: string) => void;
  readonly error: (text: string) => void;
}

/** Runs a command line. @returns the exit code */
export async function run(
  args: readonly string[],
  env: Readonly<Record<string, string | undefined>>,
  { out, error }: Output,
): Promise<ExitCode> {
  try {
    const { values, positionals } = parsed(args);
    if (values.help || positionals.length === 0) {
      out(USAGE);
      return values.help ? 0 : 2;
    }
    const { code, json, lines } = await command(values, positionals, env);
    out(values.json ? JSON.stringify(json, null, 2) : lines.join('\n'));
    return code;
  } catch (fault) {
    if (!(fault instanceof CommandError)) throw fault;
    error(fault.message);
    return 2;
  }
}

function parsed(args: readonly string[]) {
  try {
    return parseArgs({ args: [...args], options: OPTIONS, allowPositionals: true });
  } catch (fault) {
    throw new CommandError(
      `${fault instanceof Error ? fault.message : 'The command line cannot be read.'}\n\n${USAGE}`,
    );
  }
}

function command(
  values: ReturnType<typeof parsed>['values'],
  [name, subject, ...more]: readonly string[],
  env: Readonly<Record<string, string | undefined>>,
): Promise<Outcome> {
  const side: Side = values.draft ? 'draft' : 'live';
  if (more.length > 0) throw new CommandError(`One thing at a time, not ${more.join(', ')} too.`);
  const given = (what: string): string => {
    if (subject === undefined) throw new CommandError(`Say which ${what}: understudy ${name} ${what.toUpperCase()}`);
    return subject;
  };
  switch (name) {
    case 'check':
      return check(given('file'));
    case 'diff':
      return diff(serviceOf(env), side, given('file'));
    case 'pull':
      return pull(serviceOf(env), side, subject);
    case 'push': {
      const { publish = false, note, 'over-draft': overDraft = false } = values;
      return push(serviceOf(env), given('file'), { publish, note, overDraft });
    }
    case 'explain': {
      const { role: roles = [], 'signed-in': isSignedIn = false, listing = false, at } = values;
      return explain(serviceOf(env), { product: given('product'), side, at, roles, isSignedIn, listing });
    }
    case 'import': {
      const { target, replace = false, archive = false, 'refuse-all': refuseAll = false, preview = false } = values;
      if (!isTarget(target)) throw new CommandError('Say what the file holds: --target catalog or --target people');
      const mode = replace ? 'replace' : 'merge';
      return importFile(serviceOf(env), given('file'), { target, mode, archive, refuseAll, previewOnly: preview });
    }
    default:
      throw new CommandError(`There is no command ${name ?? ''}.\n\n${USAGE}`);
  }
}

const isTarget = (target: string | undefined): target is TargetName =>
  (IMPORT_TARGETS as readonly (string | undefined)[]).includes(target);
